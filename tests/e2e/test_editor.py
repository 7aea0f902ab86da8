"""Journeys through the editor's parts."""

import statistics

import pytest
from playwright.sync_api import expect
from tests.build import png
from tests.e2e.steps import (
    at,
    click_stage,
    document,
    drag_element,
    drag_on_stage,
    field,
    go_to,
    keys_of,
    layers,
    new_project,
    new_scene,
    settle,
    type_number,
    value_of,
)

# Frames a second by the clock that pictures follow (the page's own, or that of what is heard, which
# falls behind on a busy machine), over stretches of a second or more of some seconds of playing.
PACES_OF_PLAYING = """async () => {
  const { editor, player } = youngComet;
  const [start, end] = editor.range;
  const heard = [];
  let rounds = 0;
  const deafen = editor.on("time", () => {
    const frame = editor.frame + rounds * (end - start);
    if (heard.length && frame < heard.at(-1).frame) rounds += 1;
    heard.push({ frame: editor.frame + rounds * (end - start), at: player.now() });
  });
  for (let n = 0; n < 300 && !(heard.length && heard.at(-1).at - heard[0].at > 2000); n += 1)
    await new Promise((done) => setTimeout(done, 100));
  deafen();
  const paces = [];
  for (const a of heard)
    for (const b of heard)
      if (b.at - a.at > 1000) paces.push(((b.frame - a.frame) / (b.at - a.at)) * 1000);
  return paces;
}"""

pytestmark = pytest.mark.xdist_group("browser-2")


@pytest.fixture
def scene(page, server):
    new_project(page, server, "Journeys")
    new_scene(page, "Wind")
    return page


def draw_box(page, name="rectangle", start=(200, 200), end=(400, 300)):
    page.locator(f'[data-tool="{name}"]').click()
    drag_on_stage(page, start, end)


def test_an_empty_scene_teaches_the_first_step(scene):
    assert scene.locator("#stage-note").is_visible()
    assert "No layers yet" in scene.locator("#rows").inner_text()
    draw_box(scene)
    assert not scene.locator("#stage-note").is_visible()


@pytest.mark.parametrize("tool", ["ellipse", "polygon", "star", "line"])
def test_shapes_are_drawn_with_the_tools(scene, tool):
    draw_box(scene, tool)
    (layer,) = layers(scene)
    assert layer["kind"] == "shape" and value_of(scene, layer["name"], "shape.kind") == tool
    assert value_of(scene, layer["name"], "position") == pytest.approx([300, 250], abs=2)
    assert scene.evaluate("youngComet.editor.mode.tool") == "select"


def test_scale_turn_and_pivot_handles(scene):
    draw_box(scene)
    drag_element(scene, scene.locator('[data-handle="se"] .grip'), 60, 30)
    width, height = value_of(scene, "Rectangle", "scale")
    assert width == height > 120, "linked: in proportion"
    left = scene.evaluate("Object.values(youngComet.editor.view)[0].corners[0]")
    assert left == pytest.approx([200, 200], abs=1), "the opposite corner stays"
    drag_element(scene, scene.locator('[data-handle="rotate"] .grip'), 80, 60)
    assert value_of(scene, "Rectangle", "rotation") > 20
    corners = scene.evaluate("Object.values(youngComet.editor.view)[0].corners")
    scene.keyboard.press("Alt+p")
    x, y = scene.evaluate("Object.values(youngComet.editor.view)[0].pivot")
    drag_on_stage(scene, (x, y), (x - 70, y + 20), "Alt")
    scene.keyboard.press("Escape")
    assert value_of(scene, "Rectangle", "pivot") != [0, 0]
    after = scene.evaluate("Object.values(youngComet.editor.view)[0].corners")
    assert [c for p in after for c in p] == pytest.approx([c for p in corners for c in p], abs=0.2)


def test_typed_numbers_take_arithmetic_and_percent(scene):
    draw_box(scene)
    type_number(scene, "position", "1280/2 - 40")
    type_number(scene, "position", "50%", part=1)
    assert value_of(scene, "Rectangle", "position") == [600, 360]
    type_number(scene, "rotation", "720")
    assert value_of(scene, "Rectangle", "rotation") == 720
    box = field(scene, "opacity").locator("input")
    box.fill("300")
    box.press("Enter")
    scene.locator(".toast-note.bad").wait_for()
    assert "0 to 100" in scene.locator(".toast-note.bad").first.inner_text()
    assert "opacity" not in layers(scene)[0]["properties"]


def test_moving_snaps_to_the_middle_of_the_frame(scene):
    draw_box(scene)
    drag_on_stage(scene, (250, 230), (250 + 337, 230 + 113))  # the middle would be at +340, +110
    assert value_of(scene, "Rectangle", "position") == [640, 360]
    scene.keyboard.press("Control+z")
    settle(scene)
    drag_on_stage(scene, (250, 230), (250 + 337, 230 + 113), "Alt")
    assert value_of(scene, "Rectangle", "position") != [640, 360]


def test_several_layers_are_selected_aligned_and_edited_together(scene):
    draw_box(scene)
    draw_box(scene, "ellipse", (600, 100), (700, 200))
    draw_box(scene, "rectangle", (900, 400), (1000, 500))
    drag_on_stage(scene, (60, 60), (1200, 680))
    assert scene.evaluate("youngComet.editor.selected.size") == 3
    scene.get_by_role("button", name="Align middle").click()
    settle(scene)
    assert [la["properties"]["position"]["value"][1] for la in layers(scene)] == [360, 360, 360]
    scene.get_by_role("button", name="Distribute across").click()
    settle(scene)
    x = [la["properties"]["position"]["value"][0] for la in layers(scene)]
    assert (x[1] - 50) - (x[0] + 100) == pytest.approx((x[2] - 50) - (x[1] + 50), abs=0.1)
    type_number(scene, "opacity", "40")
    assert [la["properties"]["opacity"]["value"] for la in layers(scene)] == [40, 40, 40]
    scene.keyboard.press("Control+g")
    settle(scene)
    assert len(document(scene)["scenes"][0]["groups"]) == 1
    scene.keyboard.press("Escape")
    settle(scene)
    click_stage(scene, x[1], 360)
    assert scene.evaluate("youngComet.editor.selected.size") == 3, "a click takes the group"
    click_stage(scene, x[1], 360)
    assert scene.evaluate("youngComet.editor.selected.size") == 1, "a second click goes into it"


def test_copies_are_dragged_off_and_layers_are_ordered_renamed_hidden_deleted(scene):
    draw_box(scene)
    drag_on_stage(scene, (250, 230), (650, 230), "Control")
    assert [la["name"] for la in layers(scene)] == ["Rectangle", "Rectangle 2"]
    scene.keyboard.press("Control+[")
    settle(scene)
    assert [la["name"] for la in layers(scene)] == ["Rectangle 2", "Rectangle"]
    row = scene.locator(".row-line[data-layer]").first
    row.locator(".row-name").dblclick()
    scene.locator(".row-head input").fill("Sail")
    scene.keyboard.press("Enter")
    settle(scene)
    assert layers(scene)[1]["name"] == "Sail"
    scene.locator(".row-line[data-layer]").first.locator('[data-toggle="hidden"]').click()
    settle(scene)
    assert layers(scene)[1]["hidden"] is True
    scene.locator(".row-line[data-layer]").nth(1).locator(".row-name").click()
    settle(scene)
    scene.locator("#rows").press("Delete")
    settle(scene)
    assert [la["name"] for la in layers(scene)] == ["Sail"]


def test_bars_are_trimmed_and_slid_in_the_timeline(scene):
    draw_box(scene)
    type_number(scene, "opacity", "80")
    field(scene, "opacity").locator(".keystate").click()
    settle(scene)
    track = scene.locator(".row-line[data-layer] .row-track").bounding_box()
    second = (track["width"] - 22) / 2  # two seconds fill the track
    drag_element(scene, scene.locator('[data-bar="end"]'), -second, keys="Alt")
    assert layers(scene)[0]["end_s"] == pytest.approx(1.0, abs=0.05)
    drag_element(scene, scene.locator('[data-bar="slide"]'), second / 2, keys="Alt")
    layer = layers(scene)[0]
    assert (layer["start_s"], layer["end_s"]) == pytest.approx((0.5, 1.5), abs=0.05)
    assert layer["properties"]["opacity"]["keys"][0]["time_s"] == 0, "keys went along"
    drag_element(scene, scene.locator('[data-bar="start"]'), second / 4, keys="Alt")
    layer = layers(scene)[0]
    assert layer["start_s"] == pytest.approx(0.75, abs=0.05)
    assert layer["properties"]["opacity"]["keys"][0]["time_s"] == pytest.approx(-0.25, abs=0.05)
    scene.locator(".span-fields").get_by_label("Length").fill("20f")
    scene.locator(".span-fields").get_by_label("Length").press("Enter")
    settle(scene)
    layer = layers(scene)[0]
    assert layer["end_s"] - layer["start_s"] == pytest.approx(0.8)


def test_keys_are_made_moved_eased_and_deleted(scene):
    draw_box(scene)
    field(scene, "rotation").locator(".keystate").click()
    settle(scene)
    go_to(scene, "1s")
    type_number(scene, "rotation", "90")
    keys = keys_of(scene, "Rectangle", "rotation")
    assert [(key["time_s"], key["value"]) for key in keys] == [(0, 0), (1, 90)]
    head = scene.locator(f'[data-lane="rotation"] [data-key="{keys[1]["id"]}"] .key-head')
    track = scene.locator('.lane-line[data-lane="rotation"] .row-track').bounding_box()
    drag_element(scene, head, (track["width"] - 22) / 4, keys="Alt")
    assert keys_of(scene, "Rectangle", "rotation")[1]["time_s"] == pytest.approx(1.5, abs=0.05)
    scene.get_by_label("Handle y2").fill("1.4")
    scene.get_by_label("Handle y2").press("Enter")
    settle(scene)
    assert (
        keys_of(scene, "Rectangle", "rotation")[1]["easing"] == "cubic-bezier(0.42, 0, 0.58, 1.4)"
    )
    scene.get_by_role("button", name="Delete the selected keys").click()
    settle(scene)
    assert len(keys_of(scene, "Rectangle", "rotation")) == 1


def test_colours_inks_and_the_dropper(scene):
    draw_box(scene)
    field(scene, "fill.colour").locator(".swatch").click()
    scene.locator("#picker").get_by_label("Colour as text").fill("#2f9fb3")
    scene.locator("#picker").get_by_label("Colour as text").press("Enter")
    settle(scene)
    assert value_of(scene, "Rectangle", "fill.colour") == "#2f9fb3"
    scene.get_by_role("button", name="Keep this colour as an ink").click()
    settle(scene)
    ink = document(scene)["inks"][0]
    assert value_of(scene, "Rectangle", "fill.colour") == f"ink:{ink['id']}"
    scene.keyboard.press("Escape")
    scene.locator("#picker").wait_for(state="hidden")
    assert scene.evaluate("youngComet.editor.selected.size") == 1
    scene.get_by_role("tab", name="Inks").click()
    scene.locator(".ink-row .swatch").click()
    scene.locator("#picker").get_by_label("Colour as text").fill("#ffb44a")
    scene.locator("#picker").get_by_label("Colour as text").press("Enter")
    settle(scene)
    assert document(scene)["inks"][0]["colour"] == "#ffb44a"
    colour = scene.evaluate(
        """() => { const c = document.getElementById("picture"); const d = c.getContext("2d")
        .getImageData(c.width * 300 / 1280, c.height * 250 / 720, 1, 1).data; return [...d]; }"""
    )
    assert colour[:3] == pytest.approx([255, 180, 74], abs=8), "what uses the ink has changed"
    scene.get_by_role("button", name="From the stage", exact=True).click()
    scene.mouse.click(*at(scene, 300, 250))
    scene.wait_for_function("() => youngComet.editor.project.inks.length === 2")
    assert document(scene)["inks"][1]["colour"] == "#ffb44a"


def test_a_keys_dropper_reads_the_layer_before_the_key(scene):
    draw_box(scene)
    layer_id = scene.evaluate("[...youngComet.editor.selected][0]")
    scene.evaluate(
        """async (layer) => { await youngComet.editor.edit({ kind: "add-members", family: "effect", scene: youngComet.editor.sceneId,
        layers: [layer], members: [{ member: { id: "green", kind: "chroma-key" }, properties: { colour: { value: "#ff7040" }, tolerance: { value: 30 } } }] }); }""",
        layer_id,
    )
    settle(scene)
    scene.get_by_role("tab", name="Looks").click()
    scene.locator("[data-effect=green] [aria-expanded]").first.click()
    field(scene, "effect.green.colour").locator(".swatch").click()
    picker = scene.locator("#picker")
    expect(picker.get_by_label("What the dropper reads")).to_have_value("given")
    picker.get_by_role("button", name="Pick a colour from the stage").click()
    # The stage shows the layer before the key meanwhile.
    scene.wait_for_function(
        """() => { const c = document.getElementById("picture"); const d = c.getContext("2d")
        .getImageData(c.width * 300 / 1280, c.height * 250 / 720, 1, 1).data; return d[0] > 240 && d[2] < 90; }"""
    )
    scene.mouse.click(*at(scene, 300, 250))
    settle(scene)
    assert value_of(scene, "Rectangle", "effect.green.colour") == "#ff7a45"
    assert scene.evaluate("youngComet.editor.before") == ""
    # The finished frame, where that is chosen: what shows through.
    picker.get_by_label("What the dropper reads").select_option("frame")
    picker.get_by_role("button", name="Pick a colour from the stage").click()
    scene.mouse.click(*at(scene, 300, 250))
    settle(scene)
    assert value_of(scene, "Rectangle", "effect.green.colour") != "#ff7a45"


def test_a_gradient_is_shaped_on_the_stage_and_by_number(scene):
    scene.get_by_role("button", name="Add a backdrop").click()
    settle(scene)
    bar = scene.locator('[data-stops="fill.stops"]')
    box = bar.bounding_box()
    scene.mouse.click(box["x"] + box["width"] * 0.25, box["y"] + 4)
    settle(scene)
    stops = value_of(scene, "Backdrop", "fill.stops")
    assert len(stops) == 4 and stops[1][0] == pytest.approx(0.25, abs=0.02)
    scene.get_by_label("Offset of the stop in percent").fill("30")
    scene.get_by_label("Offset of the stop in percent").press("Enter")
    settle(scene)
    assert value_of(scene, "Backdrop", "fill.stops")[1][0] == 0.3
    scene.get_by_role("button", name="Reverse the gradient").click()
    settle(scene)
    assert [s[0] for s in value_of(scene, "Backdrop", "fill.stops")][2] == pytest.approx(0.7)
    drag_element(scene, scene.locator('[data-gradient="end"]'), -80, -40)
    assert value_of(scene, "Backdrop", "fill.end") != [50, 100]
    drag_element(scene, scene.locator('[data-gradient="stop"][data-index="1"]'), 0, -30)
    assert value_of(scene, "Backdrop", "fill.stops")[1][0] != pytest.approx(0.45)
    type_number(scene, "fill.start", "25")
    assert value_of(scene, "Backdrop", "fill.start")[0] == 25
    field(scene, "fill.kind").locator("select").select_option("conic")
    settle(scene)
    assert value_of(scene, "Backdrop", "fill.kind") == "conic"


def test_texts_are_set_and_edited(scene):
    scene.locator('[data-tool="text"]').click()
    scene.mouse.click(*at(scene, 640, 360))
    scene.locator(".editing-text").fill("Hold\nthe line")
    scene.keyboard.press("Control+Enter")
    settle(scene)
    assert layers(scene)[0]["name"] == "Hold the line"
    field(scene, "text.font").locator("select").select_option("unbounded")
    settle(scene)
    type_number(scene, "text.tracking", "100")
    area = field(scene, "text").locator("textarea")
    area.fill("Let go")
    area.blur()
    settle(scene)
    assert value_of(scene, "Let go", "text") == "Let go"
    assert value_of(scene, "Let go", "text.font") == "unbounded"
    field(scene, "text.tracking").hover()
    field(scene, "text.tracking").get_by_label("More about Tracking").click()
    scene.get_by_role("button", name="Back to default").click()
    settle(scene)
    assert "text.tracking" not in layers(scene)[0]["properties"]


def test_pictures_are_dropped_replaced_and_refused(scene):
    buffer = {"mimeType": "image/png", "buffer": png(200, 100)}
    data = scene.evaluate_handle(
        """(bytes) => { const t = new DataTransfer();
        t.items.add(new File([new Uint8Array(bytes)], "sail.png", { type: "image/png" })); return t; }""",
        list(buffer["buffer"]),
    )
    x, y = at(scene, 400, 300)
    scene.dispatch_event("#stage", "drop", {"dataTransfer": data, "clientX": x, "clientY": y})
    scene.wait_for_function("() => youngComet.editor.layers.length === 1")
    settle(scene)
    assert value_of(scene, "sail", "position") == pytest.approx([400, 300], abs=2)
    field(scene, "opacity").locator(".keystate").click()
    settle(scene)
    scene.get_by_role("tab", name="Assets").click()
    with scene.expect_file_chooser() as chooser:
        scene.get_by_role(
            "button", name="Add pictures, clips, sounds, fonts or colour tables"
        ).click()
    other = {"name": "two.png", "mimeType": "image/png", "buffer": png(60, 60, (0, 200, 90))}
    wrong = {"name": "story.png", "mimeType": "image/png", "buffer": b"once upon a time"}
    chooser.value.set_files([other, wrong])
    scene.locator(".toast-note.bad").wait_for()
    assert "story.png" in scene.locator(".toast-note.bad").first.inner_text()
    scene.get_by_role("tab", name="Selection").click()
    field(scene, "picture.asset").locator("select").select_option(label="two.png")
    settle(scene)
    names = {asset["id"]: asset["name"] for asset in document(scene)["assets"]}
    assert names[value_of(scene, "sail", "picture.asset")] == "two.png"
    assert len(keys_of(scene, "sail", "opacity")) == 1, "its keys are kept"
    scene.get_by_role("tab", name="Assets").click()
    two = scene.locator(".asset").filter(
        has=scene.get_by_role("button", name="two.png", exact=True)
    )
    two.get_by_label("Remove asset").click()
    scene.locator(".toast-note.bad", has_text="is used by").wait_for()


def test_play_in_real_time_with_the_filmstrip_filling(page, server):
    page.goto(f"{server.url}/projects/kite-week/scenes/logo-reveal")
    settle(page)
    page.wait_for_function(
        "() => document.getElementById('filmstrip').dataset.ready === '1.000'", timeout=60_000
    )
    page.keyboard.press("Space")
    page.wait_for_function("() => youngComet.player.playing && youngComet.editor.frame > 20")
    # However many pictures a machine shows, the frame is that of the clock.
    page.wait_for_function("() => youngComet.player.rate > 0")
    paces = page.evaluate(PACES_OF_PLAYING)
    assert statistics.median(paces) == pytest.approx(25, rel=0.08)
    page.keyboard.press("Space")
    assert not page.evaluate("youngComet.player.playing")
    frame = page.evaluate("youngComet.editor.frame")
    page.keyboard.press("ArrowRight")
    settle(page)
    assert page.evaluate("youngComet.editor.frame") == frame + 1
    page.keyboard.press("Home")
    strip = page.locator("#filmstrip").bounding_box()
    page.mouse.click(strip["x"] + strip["width"] / 2, strip["y"] + 10)
    middle = page.evaluate("youngComet.editor.scene.length_s") * 25 / 2
    assert page.evaluate("youngComet.editor.frame") == pytest.approx(middle, abs=2)


def test_the_finder_reaches_commands_and_layers(scene):
    draw_box(scene)
    scene.keyboard.press("Escape")
    scene.keyboard.press("Control+k")
    scene.get_by_label("Find anything").locator("input").fill("rectang")
    scene.keyboard.press("Enter")
    assert scene.evaluate("youngComet.editor.selected.size") == 1
    scene.keyboard.press("Escape")
    scene.keyboard.press("?")
    assert scene.locator(".keys-sections").is_visible()
    scene.keyboard.press("Escape")
    scene.get_by_role("button", name="History", exact=True).click()
    scene.locator(".history-list li", has_text="Draw a rectangle").wait_for()


def test_the_frame_is_changed_later(scene):
    draw_box(scene)
    scene.keyboard.press("Escape")
    scene.get_by_role("button", name="1280 × 720", exact=False).first.click()
    scene.locator("dialog[open]").get_by_label("Width").fill("641")
    scene.get_by_text("H.264 video needs even sides").wait_for()
    scene.locator("dialog[open]").get_by_role("button", name="29.97", exact=True).click()
    assert scene.locator("dialog[open] .chip.mono.on").all_inner_texts() == ["29.97"]
    scene.locator("#frame-arrange").select_option("scale-to-fit")
    scene.locator("dialog[open] button.main-action").click()
    scene.locator("dialog[open]").wait_for(state="detached")  # it closes when all is saved
    settle(scene)
    framed = document(scene)["scenes"][0]
    assert framed["width"] == 641
    assert framed["rate"] == {"num": 30000, "den": 1001}


def test_projects_and_scenes_are_renamed_copied_deleted_and_brought_back(page, server):
    new_project(page, server, "Short life")
    page.goto(server.url)
    card = page.locator(".card-tile", has_text="Short life").first
    card.get_by_role("button", name="More about Short life").click()
    card.get_by_role("button", name="Rename").click()
    name = card.get_by_label("Name of the project")
    expect(name).to_be_focused()
    page.keyboard.type("Long life")  # it was selected
    page.keyboard.press("Enter")
    card = page.locator(".card-tile", has_text="Long life").first
    card.get_by_role("button", name="More about").click()
    card.get_by_role("button", name="Delete").click()
    page.locator(".toast-note", has_text="Long life is deleted").get_by_role(
        "button", name="Undo"
    ).click()
    page.locator(".card-tile", has_text="Long life").first.wait_for()
    page.locator(".card-tile", has_text="Gullwing Bay Kite Week").locator(".name").click()
    page.wait_for_url("**/projects/kite-week")
    card = page.locator('[data-scene="lower-third"]')
    card.get_by_role("button", name="More about").click()
    card.get_by_role("button", name="Duplicate").click()
    page.get_by_text("Lower third copy").wait_for()
    page.get_by_role("button", name="Undo").click()
    page.get_by_text("Lower third copy").wait_for(state="detached")


def test_inks_are_gathered_as_chips_to_tick(scene):
    drawing = b"""<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"><rect width="40" height="30" fill="#ff7a45"/>
    <circle cx="20" cy="15" r="9" fill="#2f9fb3"/><path d="M0 0h9v9z" fill="#f2c14e"/></svg>"""
    scene.evaluate(
        "youngComet.editor.edit({ kind: 'add-inks', inks: [{ id: 'ember', name: 'Ember', colour: '#ff7b45' }] })"
    )
    scene.get_by_role("tab", name="Assets").click()
    with scene.expect_file_chooser() as chooser:
        scene.locator(".drop-zone").click()
    chooser.value.set_files({"name": "Bow.svg", "mimeType": "image/svg+xml", "buffer": drawing})
    scene.get_by_label("Gather inks from it").click()
    chips = scene.locator(".ink-chip")
    chips.first.wait_for()
    assert [chip.inner_text().split("\n")[0] for chip in chips.all()] == [
        "#ff7a45",
        "#2f9fb3",
        "#f2c14e",
    ]
    # What is nearly an ink already is told and not ticked.
    assert (
        "is Ember" in chips.first.inner_text()
        and chips.first.get_attribute("aria-pressed") == "false"
    )
    chips.nth(2).click()
    scene.get_by_role("button", name="Add 1 ink").click()
    settle(scene)
    assert [(ink["name"], ink["colour"]) for ink in document(scene)["inks"]] == [
        ("Ember", "#ff7b45"), ("Bow", "#2f9fb3"),
    ]  # fmt: skip
    assert chips.count() == 0


def test_a_span_beyond_the_end_is_told_and_the_scene_lengthened(scene):
    draw_box(scene)
    layer_id = scene.evaluate("[...youngComet.editor.selected][0]")
    length = document(scene)["scenes"][0]["length_s"]
    scene.evaluate(
        """([layer, end]) => youngComet.editor.edit({ kind: "set-spans", scene: youngComet.editor.sceneId,
        spans: [{ layer, start_s: 0, end_s: end }] })""",
        [layer_id, length + 2],
    )
    scene.get_by_text("Rectangle ends after the scene").wait_for()
    scene.get_by_role("button", name="Lengthen the scene").click()
    settle(scene)
    assert document(scene)["scenes"][0]["length_s"] == pytest.approx(length + 2)
