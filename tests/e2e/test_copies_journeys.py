"""Keeping aligned, copies, linked copies and moves of one's own, as a person makes them."""

from __future__ import annotations

import pytest
from tests.e2e.steps import (
    LINKED_LAYERS,
    choose,
    document,
    field,
    go_to,
    layer,
    open_desk,
    pivot,
    settle,
    tab,
    type_number,
)

pytestmark = pytest.mark.xdist_group("browser-2")


@pytest.fixture
def desk(page, server):
    open_desk(page, server, "Copies", LINKED_LAYERS, 4.0)
    return page


def unfold(page, section):
    head = page.locator(f'[data-section="{section}"] .section-head').first
    if head.get_attribute("aria-expanded") == "false":
        head.click()


def box_of(page, id):
    """The outermost coordinates of what a layer shows: left, top, right, bottom."""
    corners = page.evaluate(f"youngComet.editor.view[{id!r}].corners")
    xs, ys = [c[0] for c in corners], [c[1] for c in corners]
    return min(xs), min(ys), max(xs), max(ys)


# Keep aligned


def test_a_name_kept_at_the_right_edge_does_not_jump_and_stays_when_retyped(desk):
    choose(desk, "name")
    go_to(desk, "2s")
    before = box_of(desk, "name")
    desk.get_by_role("button", name="Keep the distance").click()
    unfold(desk, "Alignment")
    field(desk, "align.x").locator("select").select_option("right")
    settle(desk)
    assert box_of(desk, "name") == pytest.approx(before, abs=0.1)
    text = field(desk, "text").locator("textarea, input").first
    text.fill("Gullwing Bay Kite Week")
    text.blur()
    settle(desk)
    after = box_of(desk, "name")
    assert after[2] == pytest.approx(before[2], abs=0.5) and after[0] < before[0] - 100
    # What is kept beside it goes there first, and goes along.
    choose(desk, "bow")
    desk.get_by_role("button", name="Keep the distance").click()
    unfold(desk, "Alignment")
    field(desk, "align.to").locator("select").select_option("layer")
    settle(desk)
    field(desk, "align.layer").locator("select").select_option("name")
    settle(desk)
    field(desk, "align.x").locator("select").select_option("after")
    settle(desk)
    gap = box_of(desk, "bow")[0] - box_of(desk, "name")[2]
    assert gap == pytest.approx(0, abs=1)
    choose(desk, "name")
    type_number(desk, "position", "-200")
    assert box_of(desk, "bow")[0] - box_of(desk, "name")[2] == pytest.approx(gap, abs=0.5)


# Copies


def test_copies_are_drawn_with_their_steps(desk):
    choose(desk, "bow")
    unfold(desk, "Copies")
    type_number(desk, "copies.count", "4")
    type_number(desk, "copies.position", "-10")
    type_number(desk, "copies.position", "60", part=1)
    settle(desk)
    # The frame around the layer takes in all that is drawn of it, and each copy can be hit.
    properties = layer(desk, "bow")["properties"]
    assert properties["copies.count"]["value"] == 4
    assert properties["copies.position"]["value"] == [-10, 60]
    spot = desk.evaluate("youngComet.stage.toScreen([770, 540])")
    box = desk.locator("#stage").bounding_box()
    choose(desk, "kite")
    desk.mouse.click(box["x"] + spot[0], box["y"] + spot[1])
    settle(desk)  # what lies there is asked from the server
    assert desk.evaluate("[...youngComet.editor.selected]") == ["bow"]


def test_a_linked_copy_follows_until_one_property_is_its_own(desk):
    choose(desk, "bow")
    desk.keyboard.press("Alt+d")
    settle(desk)
    (twin,) = desk.evaluate("youngComet.editor.selectedLayers")
    assert twin["copy_of"] == "bow"
    card = desk.locator(".linked-copy")
    assert card.locator("p").inner_text().startswith("Everything is shared")
    choose(desk, "bow")
    type_number(desk, "rotation", "30")
    assert layer(desk, twin["id"])["properties"]["rotation"]["value"] == 30
    choose(desk, twin["id"])
    type_number(desk, "rotation", "-15")
    assert layer(desk, "bow")["properties"]["rotation"]["value"] == 30
    assert "Rotation" in card.locator("p").inner_text()
    choose(desk, "bow")
    type_number(desk, "rotation", "45")
    assert layer(desk, twin["id"])["properties"]["rotation"]["value"] == -15
    choose(desk, twin["id"])
    card.get_by_role("button", name="Share all again").click()
    settle(desk)
    assert layer(desk, twin["id"])["properties"]["rotation"]["value"] == 45
    card.get_by_role("button", name="Unlink").click()
    settle(desk)
    assert layer(desk, twin["id"])["copy_of"] is None
    desk.evaluate("youngComet.editor.undo()")
    settle(desk)
    assert layer(desk, twin["id"])["copy_of"] == "bow"


# Moves of one's own


def test_a_move_of_ones_own_is_saved_renamed_worn_and_kept_for_all_projects(desk, server):
    choose(desk, "kite")
    tab(desk, "Moves")
    desk.get_by_label("Name for a new move").fill("Half a turn")
    desk.get_by_role("button", name="Save as a move").click()
    settle(desk)
    entry = desk.locator('[data-own-move="Half a turn"]')
    entry.wait_for()
    entry.get_by_label("Name of the move").fill("Quarter turn")
    entry.get_by_label("Name of the move").press("Tab")
    settle(desk)
    entry = desk.locator('[data-own-move="Quarter turn"]')
    entry.get_by_role("button", name="only here").click()
    entry.get_by_role("button", name="everywhere").wait_for()
    choose(desk, "name")
    entry.locator(".move-entry").click()
    settle(desk)
    desk.evaluate("youngComet.player.pause()")
    (saved,) = document(desk)["saved_moves"]
    assert saved["name"] == "Quarter turn"
    assert layer(desk, "name")["moves"][0]["kind"] == f"own:{saved['id']}"
    # Another project has it at hand, and takes it in when it is worn there.
    open_desk(desk, server, "Elsewhere", LINKED_LAYERS, 4.0)
    assert document(desk)["saved_moves"] == []
    choose(desk, "bow")
    tab(desk, "Moves")
    desk.locator('[data-own-move="Quarter turn"] .move-entry').click()
    settle(desk)
    desk.evaluate("youngComet.player.pause()")
    assert [each["name"] for each in document(desk)["saved_moves"]] == ["Quarter turn"]
    assert layer(desk, "bow")["moves"][0]["kind"] == f"own:{saved['id']}"
    bow = desk.locator('[data-own-move="Quarter turn"]')
    bow.get_by_role("button", name="everywhere").click()
    bow.get_by_role("button", name="only here").wait_for()


def test_a_layer_that_wears_a_move_is_where_the_server_says(desk):
    """What a move does is seen on the stage's frame, not in the field."""
    choose(desk, "bow")
    tab(desk, "Moves")
    desk.locator('[data-move-kind="slide"]').first.click()
    settle(desk)
    desk.evaluate("youngComet.player.pause()")
    go_to(desk, "0.1s")
    away = pivot(desk, "bow")
    go_to(desk, "2s")
    assert pivot(desk, "bow") == pytest.approx((800, 360), abs=0.1)
    assert abs(away[0] - 800) + abs(away[1] - 360) > 20
