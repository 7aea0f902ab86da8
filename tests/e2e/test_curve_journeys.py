"""Curves and paths on the timing desk: tall lanes, easings, x and y apart, paths on the stage."""

from __future__ import annotations

import pytest
from tests.e2e.steps import (
    OneStep,
    at,
    drag_element,
    drag_on_stage,
    field,
    go_to,
    settle,
)
from tests.e2e.timing_desk import (
    choose_keys,
    command,
    head,
    open_timing_desk,
    per_second,
    prop,
    times,
)

pytestmark = pytest.mark.xdist_group("browser-1")


@pytest.fixture
def desk(page, server):
    return open_timing_desk(page, server)


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
    choose_keys(desk, ("kite", "rotation", "r0"))
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
    choose_keys(desk, ("kite", "rotation", "r0"))
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
    choose_keys(desk, ("kite", "rotation", "r1"))
    panel.get_by_role("button", name="Gallery…").click()
    with OneStep(desk):
        desk.locator(".gallery-entry", has_text="elastic-out").first.click()
    assert easing(1) == "elastic-out(1, 0.3)"
    choose_keys(desk, ("kite", "rotation", "r1"))
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
    desk.get_by_label("Count-in").select_option("at once")
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
    # Where a busy machine makes the hand stop, two keys are right: far fewer than samples.
    count = len(flown["flown"])
    matched = [each for each in flown["keys"] if each["join"] == "matched"]
    assert count > 15 and 2 <= len(matched) <= max(12, count // 4)
    with OneStep(desk):
        desk.get_by_label("Tolerance of the flight in px").fill("60")
    assert len(prop(desk, "ring", "position")["keys"]) <= len(flown["keys"])
