"""The timing desk as a person uses it: keys, curves, paths, layer time, marks, comparing."""

from __future__ import annotations

import pytest
from tests.e2e.steps import (
    at,
    click_stage,
    document,
    drag,
    drag_element,
    drag_on_stage,
    field,
    go_to,
    settle,
)
from tests.footage import video

pytestmark = pytest.mark.xdist_group("browser-1")

RATE = 25
POSITION = [
    {"id": "p0", "time_s": 0, "value": [200, 300], "easing": "linear"},
    {"id": "p1", "time_s": 1, "value": [640, 300], "easing": "linear"},
    {"id": "p2", "time_s": 2, "value": [1000, 500], "easing": "linear"},
]
ROTATION = [
    {"id": "r0", "time_s": 0.4, "value": 0, "easing": "ease-in-out"},
    {"id": "r1", "time_s": 1.2, "value": 80, "easing": "ease-in-out"},
    {"id": "r2", "time_s": 1.6, "value": 40, "easing": "ease-in-out"},
]


def shape(id, name, start_s=0.0, end_s=4.0, **properties):
    base = {"shape.size": {"value": [120, 90]}, **properties}
    return {
        "id": id,
        "name": name,
        "kind": "shape",
        "start_s": start_s,
        "end_s": end_s,
        "properties": base,
    }


LAYERS = [
    shape("arc", "Arc", **{"shape.kind": {"value": "path"}, "shape.path": {"value": "M0 0 C80 -160 240 -160 320 0"},
                           "fill.on": {"value": False}, "stroke.width": {"value": 6}, "position": {"value": [640, 600]}}),
    shape("ring", "Ring", 0.4, 3.0, position={"value": [300, 560]}, rotation={"keys": [
        {**key, "id": key["id"].replace("r", "s")} for key in ROTATION]}),
    shape("kite", "Kite", 0.0, 4.0, position={"keys": POSITION}, rotation={"keys": ROTATION}),
]  # fmt: skip


@pytest.fixture
def desk(page, server):
    """A scene of three shapes with keys, opened in the editor; made over the API."""
    post = lambda path, data: page.request.post(server.url + path, data=data).json()  # noqa: E731
    project = post("/api/projects", {"name": "Kite Week timing"})["project"]["id"]
    scene = {
        "id": "desk",
        "name": "Desk",
        "width": 1280,
        "height": 720,
        "rate": {"num": RATE},
        "length_s": 4.0,
    }
    for edit in (
        {"kind": "add-scene", "scene": scene},
        {"kind": "add-scene", "scene": {**scene, "id": "other", "name": "Other"}},
        {"kind": "add-layers", "scene": "desk", "layers": LAYERS},
        {"kind": "add-layers", "scene": "other", "layers": [shape("gull", "Gull")]},
    ):
        post(f"/api/projects/{project}/edits", {"edit": edit})
    page.project = project
    page.goto(f"{server.url}/projects/{project}/scenes/desk")
    settle(page)
    page.evaluate(
        "youngComet.editor.openLayers = new Set(['kite', 'ring']); youngComet.editor.requestStage()"
    )
    page.locator('[data-lane="rotation"]').first.wait_for()
    page.evaluate("document.getElementById('lower').style.height = '420px'")
    settle(page)
    return page


def history(page) -> int:
    rows = page.request.get(
        f"{page.url.split('/projects')[0]}/api/projects/{page.project}/history"
    ).json()
    return sum(row["in_effect"] for row in rows)


class OneStep:
    """What happens inside is one step of the history, and undoing it brings all back."""

    def __init__(self, page):
        self.page = page

    def __enter__(self):
        self.steps = history(self.page)
        self.before = document(self.page)

    def __exit__(self, kind, *_):
        if kind is not None:
            return
        settle(self.page)
        assert history(self.page) == self.steps + 1
        assert document(self.page) != self.before
        self.page.evaluate("youngComet.editor.undo()")
        settle(self.page)
        assert document(self.page) == self.before
        self.page.evaluate("youngComet.editor.redo()")
        settle(self.page)


def prop(page, layer, name):
    return page.evaluate(f"youngComet.editor.layer('{layer}').properties['{name}']")


def times(page, layer, name):
    start = page.evaluate(f"youngComet.editor.layer('{layer}').start_s")
    return [round(start + key["time_s"], 3) for key in prop(page, layer, name)["keys"]]


def head(page, layer, lane, key):
    return page.locator(
        f'[data-lane-layer="{layer}"][data-lane="{lane}"] [data-key="{key}"] .key-head'
    ).first


def per_second(page) -> float:
    return page.evaluate("youngComet.timeline.x(1) - youngComet.timeline.x(0)")


def choose(page, *entries):
    """Chooses keys by name, as the frame or clicks do."""
    list_ = [dict(zip(("layer", "property", "key"), entry, strict=True)) for entry in entries]
    page.evaluate("list => youngComet.editor.selectKeys(list)", list_)
    settle(page)


def chosen(page) -> set[str]:
    return set(page.evaluate("[...youngComet.editor.keys.values()].map((each) => each.key)"))


def command(page, label):
    page.keyboard.press("Control+k")
    page.locator("dialog[open] input").fill(label)
    page.keyboard.press("Enter")
    settle(page)


def test_keys_are_chosen_with_a_frame_moved_copied_nudged_and_deleted(desk):
    first, last = (
        head(desk, "kite", "rotation", "r0").bounding_box(),
        head(desk, "ring", "rotation", "s2").bounding_box(),
    )
    top = (first["x"] - 14, first["y"] - 14)
    bottom = (last["x"] + 14, last["y"] + 16)
    drag(desk, top, bottom)
    assert chosen(desk) == {"r0", "r1", "r2", "s0", "s1", "s2"}
    # Shift adds, Ctrl takes away
    head(desk, "kite", "position", "p1").click(modifiers=["Shift"])
    assert "p1" in chosen(desk)
    head(desk, "ring", "rotation", "s1").click(modifiers=["Control"])
    assert "s1" not in chosen(desk)
    choose(desk, ("kite", "rotation", "r1"), ("ring", "rotation", "s1"))
    with OneStep(desk):
        drag_element(desk, head(desk, "kite", "rotation", "r1"), 0.2 * per_second(desk), keys="Alt")
    assert times(desk, "kite", "rotation")[1] == pytest.approx(1.4, abs=0.02)
    assert times(desk, "ring", "rotation")[1] == pytest.approx(1.8, abs=0.02)
    with OneStep(desk):
        desk.keyboard.press("Alt+ArrowRight")
    with OneStep(desk):
        desk.keyboard.press("Alt+Shift+ArrowLeft")
    assert times(desk, "kite", "rotation")[1] == pytest.approx(1.4 - 9 / RATE, abs=0.02)
    choose(desk, ("kite", "rotation", "r2"))
    with OneStep(desk):
        drag_element(
            desk, head(desk, "kite", "rotation", "r2"), 1.0 * per_second(desk), keys="Control"
        )
    assert len(times(desk, "kite", "rotation")) == 4 and times(desk, "kite", "rotation")[
        -1
    ] == pytest.approx(2.6, abs=0.06)
    with OneStep(desk):
        desk.keyboard.press("Delete")
    assert "r2" not in [key["id"] for key in prop(desk, "kite", "rotation")["keys"]]


def test_pressing_on_the_desk_selects_no_text(desk):
    # On a text selection a press would start the browser's own dragging and end the desk's.
    for part in ("rows", "ruler", "stage"):
        style = f"getComputedStyle(document.getElementById('{part}')).userSelect"
        assert desk.evaluate(style) == "none"


def test_dragged_keys_snap_to_marks_and_the_playhead(desk):
    go_to(desk, "2.4s")
    with OneStep(desk):
        desk.keyboard.press("Shift+Enter")
    go_to(desk, "0s")
    drag_element(desk, head(desk, "kite", "rotation", "r2"), 0.8 * per_second(desk) + 4)
    assert times(desk, "kite", "rotation")[-1] == 2.4


def test_keys_are_pasted_to_other_layers_repeated_and_into_other_scenes(desk):
    choose(desk, ("kite", "rotation", "r0"), ("kite", "rotation", "r1"), ("kite", "rotation", "r2"))
    desk.keyboard.press("Control+c")
    desk.evaluate("youngComet.editor.select(['arc'])")
    go_to(desk, "0.2s")
    with OneStep(desk):
        desk.keyboard.press("Control+v")
    assert times(desk, "arc", "rotation") == [0.2, 1.0, 1.4]
    desk.get_by_role("tab", name="Timing").click()
    desk.get_by_label("Every so many").fill("15")
    desk.get_by_label("Unit of the distance").select_option("frames")
    desk.get_by_label("How many times").fill("3")
    go_to(desk, "2s")
    with OneStep(desk):
        desk.get_by_role("button", name="Paste here").click()
    assert times(desk, "arc", "rotation")[3:] == pytest.approx(
        [2.0, 2.6, 2.8, 3.2, 3.4, 3.8, 4.0, 4.0 + 0.4], abs=0.45
    )
    base = desk.url.rsplit("/", 1)[0]
    desk.goto(base + "/other")
    settle(desk)
    desk.evaluate("youngComet.editor.select(['gull'])")
    with OneStep(desk):
        desk.keyboard.press("Control+v")
    assert times(desk, "gull", "rotation") == [0.0, 0.8, 1.2]
    desk.get_by_role("tab", name="Selection").click()
    field(desk, "opacity").hover()
    field(desk, "opacity").locator(".more").click()
    with OneStep(desk):
        desk.get_by_role("button", name="Paste keys into it").click()
    assert len(times(desk, "gull", "opacity")) == 3


def test_keys_repeat_stretch_reverse_mirror_and_spread(desk):
    everything = [("kite", "rotation", key) for key in ("r0", "r1", "r2")]
    choose(desk, *everything)
    with OneStep(desk):
        desk.get_by_label("Repeat the keys").select_option("there-and-back")
    assert prop(desk, "kite", "rotation")["repeat"] == {"mode": "there-and-back", "times": None}
    with OneStep(desk):
        desk.get_by_label("How often", exact=True).fill("2")
        desk.get_by_label("How often", exact=True).press("Enter")
    assert prop(desk, "kite", "rotation")["repeat"]["times"] == 2
    choose(desk, *everything)
    desk.get_by_label("Stretch by percent").fill("200")
    with OneStep(desk):
        desk.get_by_label("Stretch the keys").click()
    assert times(desk, "kite", "rotation") == [0.4, 2.0, 2.8]
    with OneStep(desk):
        desk.get_by_role("button", name="Reverse", exact=True).click()
    assert times(desk, "kite", "rotation") == [0.4, 1.2, 2.8]
    with OneStep(desk):
        desk.get_by_role("button", name="Mirror", exact=True).click()
    assert [key["value"] for key in prop(desk, "kite", "rotation")["keys"]] == [40, 0, 80]
    with OneStep(desk):
        desk.get_by_role("button", name="Spread").click()
    assert times(desk, "kite", "rotation") == [0.4, 1.6, 2.8]


def test_values_are_edited_together_and_in_the_table(desk):
    choose(desk, *[("kite", "rotation", key) for key in ("r0", "r1", "r2")])
    desk.get_by_label("Set, add or multiply").select_option("add")
    with OneStep(desk):
        desk.get_by_label("Value", exact=True).fill("10")
        desk.get_by_label("Value", exact=True).press("Enter")
    assert [key["value"] for key in prop(desk, "kite", "rotation")["keys"]] == [10, 90, 50]
    desk.get_by_label("Set, add or multiply").select_option("multiply")
    with OneStep(desk):
        desk.get_by_label("Value", exact=True).fill("1/2")
        desk.get_by_label("Value", exact=True).press("Enter")
    assert [key["value"] for key in prop(desk, "kite", "rotation")["keys"]] == [5, 45, 25]
    desk.get_by_label("Table of the keys").click()
    rows = desk.locator(".key-table tbody tr")
    assert rows.count() == 3
    with OneStep(desk):
        rows.nth(1).get_by_label("Time").fill("1.37s")
        rows.nth(1).get_by_label("Time").press("Enter")
    assert times(desk, "kite", "rotation")[1] == 1.37
    with OneStep(desk):
        rows.nth(1).get_by_label("Value").fill("60")
        rows.nth(1).get_by_label("Value").press("Enter")
    with OneStep(desk):
        rows.nth(1).get_by_label("Easing").fill("bounce-out")
        rows.nth(1).get_by_label("Easing").press("Enter")
    key = prop(desk, "kite", "rotation")["keys"][1]
    assert (key["value"], key["easing"]) == (60, "bounce-out")
    rows.nth(0).get_by_label("Easing").fill("wobble")
    rows.nth(0).get_by_label("Easing").press("Enter")
    desk.get_by_text("expected one of linear").wait_for()
    desk.get_by_role("button", name="Close").locator("visible=true").click()


def test_layers_are_staggered_after_a_preview(desk):
    desk.evaluate("youngComet.editor.select(['arc', 'ring', 'kite'])")
    desk.get_by_role("tab", name="Timing").click()
    desk.get_by_label("Frames from one to the next").fill("5")
    desk.get_by_role("button", name="Preview").click(force=True)
    desk.wait_for_function("() => youngComet.editor.drafts.length === 1")
    assert desk.evaluate("youngComet.editor.layer('arc').start_s") == 0
    # The bars show where they would go
    bar = desk.locator('[data-layer="arc"] .bar')
    desk.wait_for_function(
        "() => youngComet.timeline.spanOf(youngComet.editor.layer('arc')).start_s > 0.3"
    )
    assert bar.count() == 1
    desk.get_by_label("Order", exact=True).select_option("stack-up")
    with OneStep(desk):
        desk.get_by_role("button", name="Apply").click()
    starts = desk.evaluate(
        "youngComet.editor.layers.map((layer) => Math.round(layer.start_s * 25))"
    )
    assert starts == [0, 5, 10]


def test_a_tall_lane_takes_keys_and_handles_in_both_directions(desk):
    desk.locator('[data-lane-layer="kite"][data-lane="rotation"] [data-tall]').click()
    lane = desk.locator('[data-lane-layer="kite"][data-lane="rotation"]')
    desk.locator(".speed-dot").first.wait_for()
    assert lane.locator(".level-text").count() >= 2
    box = head(desk, "kite", "rotation", "r1").bounding_box()
    desk.mouse.move(box["x"] + 30, box["y"] + 20)
    assert "°/s" in desk.locator("#lane-speed").inner_text()
    with OneStep(desk):
        drag_element(desk, head(desk, "kite", "rotation", "r1"), 0.24 * per_second(desk), 30)
    key = prop(desk, "kite", "rotation")["keys"][1]
    assert key["time_s"] > 1.3 and key["value"] < 75
    head(desk, "kite", "rotation", "r1").click()
    settle(desk)
    with OneStep(desk):
        drag_element(desk, lane.locator('[data-handle="arrive"]'), -40, 25)
    assert prop(desk, "kite", "rotation")["keys"][0]["easing"].startswith("cubic-bezier")
    # A double click puts a key on the curve, which stays as it was
    curve = "youngComet.editor.lane('kite', 'rotation').curves[0].length"
    track = lane.locator(".row-track").bounding_box()
    x = desk.evaluate("youngComet.timeline.x(0.8)")
    with OneStep(desk):
        desk.mouse.dblclick(track["x"] + x, track["y"] + 20)
    assert 0.8 in times(desk, "kite", "rotation") and desk.evaluate(curve) > 100
    # Zoom about the pointer, and back
    desk.mouse.move(track["x"] + x, track["y"] + 20)
    desk.keyboard.down("Control")
    desk.mouse.wheel(0, -600)
    desk.keyboard.up("Control")
    desk.wait_for_function("() => youngComet.timeline.span !== null")
    assert desk.evaluate("youngComet.timeline.x(0.8)") == pytest.approx(x, abs=1.5)
    command(desk, "show the chosen keys")
    command(desk, "show the whole scene")
    assert desk.evaluate("youngComet.timeline.span") is None


def test_easings_are_chosen_typed_tuned_saved_and_referred_to(desk):
    choose(desk, ("kite", "rotation", "r0"))
    easing = lambda index=0: prop(desk, "kite", "rotation")["keys"][index]["easing"]  # noqa: E731
    panel = desk.get_by_role("tabpanel", name="Timing")
    with OneStep(desk):
        panel.get_by_role("button", name="spring", exact=True).click()
    assert easing() == "spring(0.45)"
    with OneStep(desk):
        panel.get_by_label("Bounciness").fill("0.6")
        panel.get_by_label("Bounciness").press("Enter")
    assert easing() == "spring(0.6)"
    with OneStep(desk):
        panel.get_by_label("Easing as text").fill("spring(30, 2, 1)")
        panel.get_by_label("Easing as text").press("Enter")
    panel.get_by_text("after the next key").wait_for()
    with OneStep(desk):
        panel.get_by_role("button", name="Move the next key there").click()
    assert (
        times(desk, "kite", "rotation").index(1.6) == 1
    )  # the second key has moved past the third
    desk.evaluate("youngComet.editor.undo()")
    settle(desk)
    choose(desk, ("kite", "rotation", "r0"))
    panel.get_by_role("button", name="Gallery…").click()
    desk.get_by_label("Name for a new easing").fill("Gull glide")
    desk.get_by_label("New easing", exact=True).fill("cubic-bezier(0.2, 0, 0.1, 1)")
    with OneStep(desk):
        desk.get_by_role("button", name="Keep it").click()
        desk.locator(".own-easing:not(.save)").wait_for()
    with OneStep(desk):
        desk.get_by_role("button", name="Refer to it").click()
    saved = desk.evaluate("youngComet.editor.project.easings[0].id")
    assert easing() == f"easing:{saved}"
    choose(desk, ("kite", "rotation", "r1"))
    panel.get_by_role("button", name="Gallery…").click()
    with OneStep(desk):
        desk.locator(".gallery-entry", has_text="elastic-out").first.click()
    assert easing(1) == "elastic-out(1, 0.3)"
    choose(desk, ("kite", "rotation", "r1"))
    panel.get_by_role("button", name="Arrive", exact=True).click()
    with OneStep(desk):
        panel.get_by_role("button", name="ease-out", exact=True).click()
    assert easing() == "cubic-bezier(0.2, 0, 0.58, 1)"
    with OneStep(desk):
        panel.get_by_role("button", name="Smooth").click()
    assert prop(desk, "kite", "rotation")["keys"][1]["join"] == "smooth"


def test_position_is_split_into_x_and_y_and_joined_again(desk):
    desk.evaluate("youngComet.editor.select(['kite'])")
    settle(desk)
    points = "youngComet.editor.paths.kite.points"
    before = desk.evaluate(points)
    field(desk, "position").hover()
    field(desk, "position").locator(".more").click()
    with OneStep(desk):
        desk.get_by_role("button", name="Split into x and y").click()
    assert desk.locator('[data-lane-layer="kite"][data-lane="position.x"]').count() == 1
    go_to(desk, "0.6s")
    box = field(desk, "position.y").locator("input")
    with OneStep(desk):
        box.fill("250")
        box.press("Enter")
    desk.evaluate("youngComet.editor.undo()")
    settle(desk)
    field(desk, "position.x").hover()
    field(desk, "position.x").locator(".more").click()
    with OneStep(desk):
        desk.get_by_role("button", name="Join x and y").click()
    after = desk.evaluate(points)
    assert len(before) == len(after)
    assert (
        max(
            abs(a - b)
            for p, q in zip(before, after, strict=True)
            for a, b in zip(p, q, strict=True)
        )
        < 0.5
    )


def test_a_path_is_bent_and_gets_points_on_the_stage(desk):
    desk.evaluate("youngComet.editor.select(['kite'])")
    settle(desk)
    with OneStep(desk):
        drag_on_stage(desk, (640, 300), (660, 260))
    assert prop(desk, "kite", "position")["keys"][1]["value"] == pytest.approx([660, 260], abs=2)
    with OneStep(desk):
        desk.mouse.dblclick(*at(desk, 660, 260))
        settle(desk)
    key = prop(desk, "kite", "position")["keys"][1]
    assert key["handle_in"] and key["handle_out"]
    x, y = key["value"][0] + key["handle_out"][0], key["value"][1] + key["handle_out"][1]
    with OneStep(desk):
        drag_on_stage(desk, (x, y), (x + 20, y - 60))
    key = prop(desk, "kite", "position")["keys"][1]
    turned = key["handle_in"][0] * key["handle_out"][1] - key["handle_in"][1] * key["handle_out"][0]
    assert abs(turned) < 1 and key["handle_out"][1] < 0
    point = desk.evaluate("youngComet.editor.paths.kite.points[36]")
    with OneStep(desk):
        desk.mouse.dblclick(*at(desk, *point))
        settle(desk)
    assert len(prop(desk, "kite", "position")["keys"]) == 4
    desk.keyboard.down("Alt")
    with OneStep(desk):
        desk.mouse.click(*at(desk, *point))
        settle(desk)
    desk.keyboard.up("Alt")
    assert len(prop(desk, "kite", "position")["keys"]) == 3
    desk.evaluate("youngComet.editor.select(['kite'])")
    with OneStep(desk):
        desk.get_by_text("One speed along the path").click()
    assert prop(desk, "kite", "position")["pace"] == "even"
    with OneStep(desk):
        field(desk, "turn.on").locator("input").check()
    with OneStep(desk):
        field(desk, "turn.offset").locator("input").fill("90")
        field(desk, "turn.offset").locator("input").press("Enter")
    point = desk.evaluate("youngComet.editor.paths.kite.points[10]")
    desk.keyboard.down("Control")
    with OneStep(desk):
        drag_on_stage(desk, point, (point[0] + 30, point[1] + 40))
    desk.keyboard.up("Control")
    assert prop(desk, "kite", "position")["keys"][0]["value"] == pytest.approx([230, 340], abs=2)


def test_paths_are_drawn_taken_from_a_shape_and_flown(desk):
    desk.evaluate("youngComet.editor.select(['ring'])")
    go_to(desk, "0.4s")
    with OneStep(desk):
        desk.get_by_label("Take the path of a shape").select_option("arc")
    taken = prop(desk, "ring", "position")
    assert taken["pace"] == "even" and len(taken["keys"]) == 2 and taken["keys"][0]["handle_out"]
    desk.get_by_role("button", name="Draw path").click()
    start = at(desk, 200, 500)
    with OneStep(desk):
        desk.mouse.move(*start)
        desk.mouse.down()
        for i in range(1, 30):
            desk.mouse.move(start[0] + 9 * i, start[1] - 60 * (1 - (i / 15 - 1) ** 2))
        desk.mouse.up()
    drawn = prop(desk, "ring", "position")["keys"]
    assert 2 <= len(drawn) <= 6 and drawn[0]["value"] == pytest.approx([200, 500], abs=6)
    desk.get_by_label("Count-in").select_option("0")
    desk.get_by_label("Time runs at").select_option("0.5")
    go_to(desk, "0.4s")
    desk.get_by_role("button", name="Fly it").click()
    desk.get_by_text("Take hold of the layer").wait_for()
    with OneStep(desk):
        desk.mouse.move(*start)
        desk.mouse.down()
        for i in range(1, 40):
            desk.mouse.move(start[0] + 8 * i, start[1] + (40 if i > 20 else 0) * (i - 20) / 20)
            desk.wait_for_timeout(16)
        desk.mouse.up()
        settle(desk)
    flown = prop(desk, "ring", "position")
    assert (
        len(flown["flown"]) > 15
        and 2 <= len([k for k in flown["keys"] if k["join"] == "matched"]) <= 12
    )
    with OneStep(desk):
        desk.get_by_label("Tolerance of the flight in px").fill("60")
    assert len(prop(desk, "ring", "position")["keys"]) <= len(flown["keys"])


def test_a_clip_is_uploaded_trimmed_slipped_split_and_retimed(desk):
    desk.locator("#file-input").set_input_files(
        {"name": "clouds.mp4", "mimeType": "video/mp4", "buffer": video(50)}
    )
    desk.get_by_role("tab", name="Assets").click()
    desk.locator(".asset", has_text="clouds.mp4").locator("button").first.wait_for()
    go_to(desk, "1s")
    with OneStep(desk):
        desk.locator(".asset", has_text="clouds.mp4").locator("button").first.click()
    layer = desk.evaluate("youngComet.editor.layers.find((each) => each.kind === 'clip')")
    assert (layer["kind"], layer["start_s"], layer["end_s"]) == ("clip", 1, 3)
    id_ = layer["id"]
    desk.evaluate(f"youngComet.editor.select(['{id_}'])")
    row = desk.locator(f'[data-layer="{id_}"]')
    value = lambda name: (prop(desk, id_, name) or {}).get("value")  # noqa: E731

    def span():
        layer = desk.evaluate(f"youngComet.editor.layer('{id_}')")
        return [layer["start_s"], layer["end_s"]]

    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="start"]'), 0.4 * per_second(desk), keys="Alt")
    assert span()[0] == pytest.approx(1.4, abs=0.05) and value("time.offset") == pytest.approx(
        0.4, abs=0.05
    )
    desk.get_by_label("Slip", exact=True).click()
    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="slide"]'), 0.2 * per_second(desk))
    assert value("time.offset") == pytest.approx(0.2, abs=0.06)
    desk.get_by_label("Slip", exact=True).click()
    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="slide"]'), -0.4 * per_second(desk), keys="Alt")
    go_to(desk, "1.6s")
    desk.evaluate(f"youngComet.editor.select(['{id_}'])")
    with OneStep(desk):
        desk.keyboard.press("Control+Enter")
    second = desk.evaluate(
        f"youngComet.editor.layers.find((each) => each.kind === 'clip' && each.id !== '{id_}').id"
    )
    assert span()[1] == pytest.approx(1.6)
    desk.evaluate(f"youngComet.editor.select(['{second}'])")
    with OneStep(desk):
        desk.keyboard.press("Alt+End")
    assert desk.evaluate(f"youngComet.editor.layer('{second}').end_s") == 4
    # With ripple on, what follows moves along when an end is trimmed
    desk.get_by_label("Ripple", exact=True).click()
    with OneStep(desk):
        drag_element(desk, row.locator('[data-bar="end"]'), -0.2 * per_second(desk), keys="Alt")
    assert desk.evaluate(f"youngComet.editor.layer('{second}').start_s") == pytest.approx(
        span()[1], abs=0.001
    )
    desk.get_by_label("Ripple", exact=True).click()
    desk.evaluate(f"youngComet.editor.select(['{id_}'])")
    with OneStep(desk):
        field(desk, "time.speed").locator("input").fill("50")
        field(desk, "time.speed").locator("input").press("Enter")
    with OneStep(desk):
        desk.get_by_role("button", name="Fill span").click()
    with OneStep(desk):
        desk.get_by_label("Played in").fill("1s")
        desk.get_by_label("Played in").press("Enter")
    assert value("time.speed") == pytest.approx(200)
    with OneStep(desk):
        field(desk, "time.reversed").locator("input").check()
    with OneStep(desk):
        field(desk, "time.after").locator("select").select_option("there-and-back")
    with OneStep(desk):
        desk.get_by_role("button", name="Freeze here").click()
    assert value("time.frozen") is True
    with OneStep(desk):
        desk.get_by_role("button", name="Freeze here").click()
    with OneStep(desk):
        field(desk, "time.curve").locator("input").check()
    assert len(prop(desk, id_, "time.source")["keys"]) == 2
    desk.locator(f'[data-lane-layer="{id_}"][data-lane="time.source"]').wait_for()


def test_marks_are_tapped_moved_named_and_listed(desk):
    desk.wait_for_function("() => document.getElementById('filmstrip').dataset.ready === '1.000'")
    desk.keyboard.press("Space")
    # What is on the screen when a tap arrives, whenever a busy machine gets round to it.
    desk.evaluate(
        """() => { window.taps = []; addEventListener("keydown", (event) => {
            if (event.key === "Enter") window.taps.push(youngComet.editor.time); }, true); }"""
    )
    desk.wait_for_timeout(900)
    desk.keyboard.press("Shift+Enter")
    desk.wait_for_timeout(500)
    desk.keyboard.press("Shift+Enter")
    desk.wait_for_timeout(300)
    desk.keyboard.press("Space")
    settle(desk)
    # Tapping costs the player nothing: everything is still there to be played.
    assert desk.evaluate("document.getElementById('filmstrip').dataset.ready") == "1.000"
    marks = lambda: desk.evaluate("youngComet.editor.scene.marks")  # noqa: E731
    assert [mark["name"] for mark in marks()] == ["Mark 1", "Mark 2"]
    taps = desk.evaluate("window.taps")
    assert taps[1] > taps[0] and [mark["time_s"] for mark in marks()] == pytest.approx(taps)
    with OneStep(desk):
        drag_element(desk, desk.locator(".pennant path").first, 0.2 * per_second(desk))
    pennant = desk.locator(".pennant path").first.bounding_box()
    desk.mouse.dblclick(pennant["x"] + 4, pennant["y"] + 4)
    with OneStep(desk):
        desk.get_by_label("Name of the mark").fill("Gust")
        desk.keyboard.press("Enter")
    assert "Gust" in [mark["name"] for mark in marks()]
    desk.get_by_role("tab", name="Timing").click()
    desk.get_by_label("Go to Gust").click()
    assert desk.evaluate("youngComet.editor.time") == pytest.approx(
        next(m["time_s"] for m in marks() if m["name"] == "Gust")
    )
    with OneStep(desk):
        desk.get_by_label("Delete the mark").first.click()
    assert len(marks()) == 1


def test_playing_and_rendering_keep_to_the_working_range(desk):
    with OneStep(desk):
        drag_element(desk, desk.locator('rect[data-range="start"]'), 1.0 * per_second(desk))
    go_to(desk, "1.96s")
    with OneStep(desk):
        desk.keyboard.press("Shift+End")
    start, end = desk.evaluate("youngComet.editor.scene.range_s")
    assert start == pytest.approx(1.0, abs=0.05) and end == pytest.approx(2.0)
    desk.wait_for_function("() => document.getElementById('filmstrip').dataset.ready === '1.000'")
    desk.evaluate(
        "window.seen = new Set(); youngComet.editor.on('time', () => window.seen.add(youngComet.editor.frame))"
    )
    go_to(desk, "3s")
    desk.evaluate("window.seen.clear()")
    desk.keyboard.press("Space")
    desk.wait_for_timeout(1800)
    desk.keyboard.press("Space")
    seen = desk.evaluate("[...window.seen]")
    assert min(seen) >= round(start * 25) and max(seen) < 50 and len(seen) > 10
    desk.get_by_role("button", name="Render", exact=True).click()
    assert desk.locator("#render-from").input_value() == f"{start:g}s"
    assert desk.get_by_label("To", exact=True).input_value() == "2s"
    desk.keyboard.press("Escape")
    command(desk, "the whole scene")
    assert (
        desk.evaluate("youngComet.editor.scene.range_s") is None
        or desk.evaluate("youngComet.timeline.span") is None
    )


def test_onion_and_compare_show_other_moments(desk):
    desk.evaluate("youngComet.editor.select(['kite'])")
    go_to(desk, "0.8s")
    pixels = "youngComet.stage.context.getImageData(0, 0, 960, 540).data.reduce((a, b) => (a * 31 + b) % 1000000007, 7)"
    plain = desk.evaluate(pixels)
    desk.get_by_label("Onion view").click()
    settle(desk)
    assert desk.evaluate(pixels) != plain
    desk.get_by_label("Onion view").click()
    settle(desk)
    assert desk.evaluate(pixels) == plain
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="With this moment").click()
    desk.wait_for_function("() => youngComet.compare.canvas.width === 960")
    go_to(desk, "1.6s")
    other = pixels.replace("stage.context", "compare.context")
    assert desk.evaluate(other) == plain != desk.evaluate(pixels)
    divider = desk.locator("#compare-divider").bounding_box()
    drag(desk, (divider["x"] + 7, divider["y"] + 60), (divider["x"] - 100, divider["y"] + 60))
    assert desk.evaluate("youngComet.compare.part") < 0.45
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="Side by side").click()
    assert desk.evaluate("youngComet.stage.half") is True
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="Before and after the last edit").click()
    click_stage(desk, 1200, 40)
    desk.evaluate("youngComet.editor.select(['kite'])")
    box = field(desk, "opacity").locator("input")
    box.fill("20")
    box.press("Enter")
    settle(desk)
    desk.wait_for_timeout(300)
    assert desk.evaluate(other) != desk.evaluate(pixels)
    desk.get_by_label("Compare", exact=True).click()
    desk.get_by_role("button", name="Stop comparing").click()
    assert desk.evaluate("youngComet.stage.half") is False


def test_the_match_finder_finds_the_moment_to_cut(desk):
    # A still copy of the kite where it is at 1.2 s: there the moving one can hand over to it.
    desk.evaluate("youngComet.editor.select(['kite'])")
    settle(desk)
    place = desk.evaluate("youngComet.editor.paths.kite.points[30]")
    still = shape(
        "still", "Still kite", 0.0, 4.0, position={"value": place}, rotation={"value": 80}
    )
    url = f"{desk.url.split('/projects')[0]}/api/projects/{desk.project}/edits"
    desk.request.post(
        url, data={"edit": {"kind": "add-layers", "scene": "desk", "layers": [still]}}
    )
    settle(desk)
    desk.get_by_role("tab", name="Timing").click()
    desk.get_by_label("What is compared").select_option("layers")
    desk.get_by_label("From layer").select_option("kite")
    desk.get_by_label("To layer").select_option("still")
    desk.get_by_role("button", name="Compare", exact=True).last.click()
    desk.locator(".match").first.wait_for()
    assert desk.locator(".match .mono").first.inner_text() == "00:01:05"
    with OneStep(desk):
        desk.get_by_label("Cut at 00:01:05").click()
    assert desk.evaluate(
        "[youngComet.editor.layer('kite').end_s, youngComet.editor.layer('still').start_s]"
    ) == [1.2, 1.2]
    desk.get_by_label("What is compared").select_option("loop")
    desk.get_by_role("button", name="Compare", exact=True).last.click()
    desk.get_by_text("It jumps when it loops").wait_for()
