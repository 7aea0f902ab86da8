"""Keys on the timing desk: choosing, moving, copying, repeating, stretching, the table, staggering."""

from __future__ import annotations

import pytest
from tests.e2e.steps import (
    OneStep,
    drag,
    drag_element,
    field,
    go_to,
    settle,
)
from tests.e2e.timing_desk import (
    RATE,
    choose_keys,
    chosen,
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
    choose_keys(desk, ("kite", "rotation", "r1"), ("ring", "rotation", "s1"))
    with OneStep(desk):
        drag_element(desk, head(desk, "kite", "rotation", "r1"), 0.2 * per_second(desk), keys="Alt")
    assert times(desk, "kite", "rotation")[1] == pytest.approx(1.4, abs=0.02)
    assert times(desk, "ring", "rotation")[1] == pytest.approx(1.8, abs=0.02)
    with OneStep(desk):
        desk.keyboard.press("Alt+ArrowRight")
    with OneStep(desk):
        desk.keyboard.press("Alt+Shift+ArrowLeft")
    assert times(desk, "kite", "rotation")[1] == pytest.approx(1.4 - 9 / RATE, abs=0.02)
    choose_keys(desk, ("kite", "rotation", "r2"))
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
    choose_keys(
        desk, ("kite", "rotation", "r0"), ("kite", "rotation", "r1"), ("kite", "rotation", "r2")
    )
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
    choose_keys(desk, *everything)
    with OneStep(desk):
        desk.get_by_label("Repeat the keys").select_option("there-and-back")
    assert prop(desk, "kite", "rotation")["repeat"] == {"mode": "there-and-back", "times": None}
    with OneStep(desk):
        desk.get_by_label("How often", exact=True).fill("2")
        desk.get_by_label("How often", exact=True).press("Enter")
    assert prop(desk, "kite", "rotation")["repeat"]["times"] == 2
    choose_keys(desk, *everything)
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
    choose_keys(desk, *[("kite", "rotation", key) for key in ("r0", "r1", "r2")])
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
