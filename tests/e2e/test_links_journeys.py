"""Things that belong together, as a person makes them so: rides, expressions, ties, scenes in
scenes, moves."""

from __future__ import annotations

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import (
    LINKED_LAYERS,
    at,
    choose,
    document,
    drag_element,
    drag_on_stage,
    go_to,
    layer,
    open_desk,
    pivot,
    settle,
    tab,
)

pytestmark = pytest.mark.xdist_group("browser-2")


@pytest.fixture
def desk(page, server):
    """A scene with a kite that turns, a bow, a name."""
    open_desk(page, server, "Links", LINKED_LAYERS, 4.0)
    return page


def click_stage_at(page, x, y):
    page.mouse.click(*at(page, x, y))
    page.wait_for_timeout(250)  # what lies there is asked from the server
    settle(page)


# Riding


def test_ride_on_by_a_click_on_the_stage_and_nothing_jumps(desk):
    choose(desk, "bow")
    go_to(desk, "1s")
    before = pivot(desk, "bow")
    desk.get_by_label("Choose what to ride on by a click").click()
    click_stage_at(desk, 400, 360)
    assert layer(desk, "bow")["rides"] == "kite"
    assert pivot(desk, "bow") == pytest.approx(before, abs=0.01)
    go_to(desk, "2s")
    assert pivot(desk, "bow") != pytest.approx(before, abs=50)  # it is carried along
    desk.select_option('select[aria-label="Rides on"]', "")
    settle(desk)
    assert layer(desk, "bow")["rides"] is None
    desk.evaluate("youngComet.editor.undo()")
    settle(desk)
    assert layer(desk, "bow")["rides"] == "kite"


def test_a_rider_follows_the_pointer_when_it_is_dragged(desk):
    choose(desk, "bow")
    go_to(desk, "2s")
    desk.select_option('select[aria-label="Rides on"]', "kite")
    settle(desk)
    desk.get_by_label("Snapping").click()
    drag_on_stage(desk, (800, 360), (760, 480))
    assert pivot(desk, "bow") == pytest.approx((760, 480), abs=2)


def test_a_rider_chosen_together_with_what_it_rides_on_moves_once(desk):
    choose(desk, "bow")
    go_to(desk, "0s")
    desk.select_option('select[aria-label="Rides on"]', "kite")
    settle(desk)
    choose(desk, "kite", "bow")
    before = pivot(desk, "bow")
    desk.keyboard.press("Control+Shift+ArrowRight")
    settle(desk)
    assert pivot(desk, "bow")[0] == pytest.approx(before[0] + 10, abs=0.01)


def test_carry_together_makes_a_carrier_at_the_common_middle(desk):
    choose(desk, "kite", "bow")
    go_to(desk, "0s")
    desk.keyboard.press("Alt+g")
    settle(desk)
    (carrier,) = desk.evaluate("youngComet.editor.selectedLayers")
    assert carrier["kind"] == "carrier" and carrier["properties"]["position"]["value"] == [555, 360]
    assert layer(desk, "kite")["rides"] == carrier["id"] == layer(desk, "bow")["rides"]
    drag_on_stage(desk, (583, 384), (583, 484))
    assert pivot(desk, "bow")[1] == pytest.approx(460, abs=3)


# Expressions


def open_expression(page, property_id):
    page.locator(f'[data-property="{property_id}"]').hover()
    page.locator(f'[data-property="{property_id}"] .more').click()
    page.locator("#property-menu button", has_text="xpression").first.click()
    return page.get_by_role("dialog", name="Expression")


def test_an_expression_is_written_with_completion_and_errors_in_words(desk):
    choose(desk, "bow")
    editor = open_expression(desk, "rotation")
    area = editor.get_by_label("Expression")
    area.press_sequentially('of("Ki')
    editor.get_by_role("option", name="Kite").wait_for()
    area.press("Tab")
    area.press_sequentially("rot")
    area.press("Tab")
    expect(area).to_have_value('of("Kite", "rotation")')
    area.press_sequentially(" + wind")
    editor.get_by_role("alert").filter(has_text="'wind' is not known").wait_for()
    for _ in range(4):
        area.press("Backspace")
    area.press_sequentially("10")
    desk.wait_for_function(
        "() => document.querySelector('.expression-plot path').getAttribute('d').length > 100"
    )
    editor.locator(".expression-error").wait_for(state="hidden")
    area.press("Enter")
    settle(desk)
    assert (
        layer(desk, "bow")["properties"]["rotation"]["expression"] == 'of("Kite", "rotation") + 10'
    )
    go_to(desk, "2s")
    expect(desk.locator('[data-property="rotation"] input')).to_have_value("100")
    # What reads a property is told beside its own expression.
    choose(desk, "kite")
    readers = open_expression(desk, "rotation")
    readers.get_by_role("button", name="Bow: Rotation").wait_for()
    desk.keyboard.press("Escape")


def test_a_link_is_made_without_typing_and_baked(desk):
    choose(desk, "bow")
    desk.locator('[data-property="rotation"]').hover()
    desk.locator('[data-property="rotation"] .more').click()
    desk.locator("#property-menu button", has_text="Link to another").click()
    desk.select_option("#link-layer", "kite")
    desk.select_option("#link-property", "rotation")
    desk.fill("#link-delay", "0.4")
    desk.fill("#link-factor", "-1")
    desk.locator("dialog[open] button.main-action").click()
    settle(desk)
    text = layer(desk, "bow")["properties"]["rotation"]["expression"]
    assert text == 'of("Kite", "rotation", at=T - 0.4) * -1'
    desk.locator('[data-property="rotation"] .expressed').click()
    desk.get_by_role("dialog", name="Expression").get_by_role("button", name="Bake").click()
    settle(desk)
    rotation = layer(desk, "bow")["properties"]["rotation"]
    assert not rotation["expression"] and 2 <= len(rotation["keys"]) <= 6


# Ties


def test_a_start_is_tied_by_a_click_and_carried_along(desk):
    choose(desk, "name")
    desk.keyboard.press("Alt+t")
    desk.locator('[data-moment="arrived"][data-id="kite"]').click()
    settle(desk)
    assert layer(desk, "name")["start_tie"]["moment"] == "arrived"
    assert layer(desk, "name")["start_s"] == 1.0
    choose(desk, "kite")
    tab(desk, "Timing")
    desk.fill('[aria-label="Arrives in"]', "1.4s")
    desk.press('[aria-label="Arrives in"]', "Enter")
    settle(desk)
    assert layer(desk, "name")["start_s"] == pytest.approx(1.4)
    # The slope does the same by hand.
    grip = desk.locator('[data-layer="kite"] [data-bar="arrive"]')
    drag_element(desk, grip, 120)
    assert layer(desk, "kite")["arrive_s"] > 1.5
    assert layer(desk, "name")["start_s"] == pytest.approx(
        layer(desk, "kite")["arrive_s"], abs=0.05
    )


def test_a_thread_is_cut_by_delete(desk):
    choose(desk, "name")
    tab(desk, "Timing")
    desk.get_by_role("button", name="Tie start to…").click()
    desk.locator('[data-moment="end"][data-id="kite"]').click()
    settle(desk)
    # It goes there; with the distance kept it stays where it was.
    assert layer(desk, "name")["start_tie"]["offset_s"] == 0
    assert layer(desk, "name")["start_s"] == layer(desk, "kite")["end_s"]
    desk.keyboard.press("Control+z")
    settle(desk)
    desk.get_by_role("button", name="Keep the distance").last.click()
    desk.get_by_role("button", name="Tie start to…").click()
    desk.locator('[data-moment="end"][data-id="kite"]').click()
    settle(desk)
    assert layer(desk, "name")["start_tie"]["offset_s"] == -3
    desk.locator('[data-thread="name|start"] .grip').dispatch_event("pointerdown", {"button": 0})
    desk.keyboard.press("Delete")
    settle(desk)
    assert layer(desk, "name")["start_tie"] is None and layer(desk, "name")["start_s"] == 1.0


def test_one_after_another(desk):
    choose(desk, "kite", "bow", "name")
    tab(desk, "Timing")
    desk.fill('[aria-label="Later by"]', "5f")
    desk.get_by_role("button", name="One after another").click()
    settle(desk)
    starts = [layer(desk, id)["start_s"] for id in ("kite", "bow", "name")]
    assert starts == pytest.approx([0, 1.2, 1.4])


# Scenes in scenes


def test_wrap_open_edit_inside_and_come_back(desk):
    choose(desk, "bow", "name")
    before = desk.evaluate("youngComet.editor.layers.length")
    desk.keyboard.press("Alt+w")
    settle(desk)
    (placed,) = desk.evaluate("youngComet.editor.selectedLayers")
    assert placed["kind"] == "scene" and before - 1 == desk.evaluate(
        "youngComet.editor.layers.length"
    )
    desk.locator('[data-section="Placed scene"] button', has_text="Open").click()
    desk.wait_for_url("**/scenes/*?via=desk")
    settle(desk)
    assert [la["id"] for la in desk.evaluate("youngComet.editor.layers")] == ["bow", "name"]
    choose(desk, "name")
    desk.locator('[data-property="text"]').hover()
    desk.locator('[data-property="text"] .more').click()
    desk.locator("#property-menu button", has_text="Make it a slot").click()
    settle(desk)
    desk.locator(".crumbs .crumb a", has_text="Desk").click()
    desk.wait_for_url("**/scenes/desk")
    settle(desk)
    choose(desk, placed["id"])
    desk.fill('[data-slot="Name"] input[aria-label="Name"]:visible', "Oona Tidewell")
    desk.press('[data-slot="Name"] input[aria-label="Name"]:visible', "Enter")
    settle(desk)
    assert list(layer(desk, placed["id"])["slots"].values()) == ["Oona Tidewell"]
    inner = document(desk)["scenes"][1]
    assert inner["layers"][1]["properties"]["text"]["value"] == "Gullwing"
    # What is set of it takes keys; taken back it is one value again.
    desk.get_by_role("button", name="Animate Name").click()
    settle(desk)
    slot = desk.evaluate("Object.keys(youngComet.editor.selectedLayers[0].slot_specs)[0]")
    keyed = layer(desk, placed["id"])["properties"][f"slot.{slot}"]
    assert [key["value"] for key in keyed["keys"]] == ["Oona Tidewell"]
    assert desk.locator(f'[data-lane="slot.{slot}"]').first.is_visible()
    desk.get_by_role("button", name="Stop animating Name").click()
    settle(desk)
    assert list(layer(desk, placed["id"])["slots"].values()) == ["Oona Tidewell"]
    desk.get_by_role("button", name="Unwrap").click()
    settle(desk)
    names = {la["name"]: la for la in desk.evaluate("youngComet.editor.layers")}
    assert names["Name"]["properties"]["text"]["value"] == "Oona Tidewell"
    assert "scene" not in {la["kind"] for la in names.values()}


# Moves


def test_a_move_is_worn_tuned_spread_and_made_into_keys(desk):
    choose(desk, "name")
    tab(desk, "Moves")
    desk.locator('[data-move-kind="lift"]').click()
    settle(desk)
    desk.evaluate("youngComet.player.pause()")
    move = layer(desk, "name")["moves"][0]
    assert (move["kind"], move["phase"], layer(desk, "name")["arrive_s"]) == ("lift", "arrive", 0.9)
    card = desk.locator('[data-move="Lift"]')
    card.locator('[aria-label="Distance"]').fill("3")
    card.locator('[aria-label="Distance"]').press("Enter")
    settle(desk)
    assert layer(desk, "name")["properties"][f"move.{move['id']}.distance-em"]["value"] == 3
    # Over its letters the phase is as long as these take; a length that is typed stays.
    length = desk.get_by_label("Length of the phase")
    follows = desk.locator(".follows input")
    expect(follows).to_be_checked()
    card.locator("select[aria-label='Spread unit']").select_option("letters")
    settle(desk)
    taken = layer(desk, "name")["arrive_s"]
    assert taken != 0.9 and layer(desk, "name")["arrive_follows"]
    length.fill("0.9")
    length.press("Enter")
    settle(desk)
    expect(follows).not_to_be_checked()
    assert layer(desk, "name")["arrive_s"] == 0.9
    follows.check()
    settle(desk)
    assert layer(desk, "name")["arrive_s"] == taken
    card.locator("select[aria-label='Spread unit']").select_option("whole")
    settle(desk)
    # While it arrives the layer is lower; the field says where it rests.
    go_to(desk, "1.1s")
    tab(desk, "Selection")
    assert pivot(desk, "name")[1] > 125
    expect(desk.locator('[data-property="position"] input').nth(1)).to_have_value("120")
    tab(desk, "Moves")
    desk.locator('[data-phase="leave"]').click()
    desk.locator('[data-move-kind="focus"]').click()
    settle(desk)
    desk.evaluate("youngComet.player.pause()")
    assert [m["phase"] for m in layer(desk, "name")["moves"]] == ["arrive", "leave"]
    desk.get_by_role("button", name="Into keys").click()
    settle(desk)
    name = layer(desk, "name")
    assert not name["moves"] and len(name["properties"]["position"]["keys"]) >= 2
    assert name["effects"][0]["kind"] == "gaussian-blur"


def test_a_passage_is_worn_whole_and_undone_at_once(desk):
    """Arriving, dwelling and leaving by one press; the picture plays; one step takes it back."""
    choose(desk, "name")
    tab(desk, "Moves")
    desk.get_by_label("Search moves").fill("rise")
    desk.locator('[data-passage="waterline"]').click()
    settle_moves(desk, 3)
    name = layer(desk, "name")
    assert [(m["phase"], m["kind"]) for m in name["moves"]] == [
        ("arrive", "slide"), ("dwell", "push-in"), ("leave", "slide")
    ]  # fmt: skip
    assert 0 < name["leave_s"] < name["arrive_s"] and name["arrive_follows"]
    desk.get_by_label("Search moves").fill("")
    assert desk.locator("[data-passage]").count() >= 16
    desk.get_by_label("Search moves").blur()
    desk.keyboard.press("Control+z")
    settle_moves(desk, 0)


def settle_moves(desk, count):
    desk.wait_for_function(f"() => youngComet.editor.layer('name').moves.length === {count}")
    desk.evaluate("youngComet.player.pause()")
    settle(desk)


def test_moves_are_copied_to_other_layers(desk):
    choose(desk, "kite")
    tab(desk, "Moves")
    desk.locator('[data-move-kind="spring-in"]').click()
    settle(desk)
    desk.evaluate("youngComet.player.pause()")
    desk.get_by_role("button", name="Copy", exact=True).click()
    choose(desk, "bow", "name")
    tab(desk, "Moves")
    desk.get_by_role("button", name="Paste", exact=True).click()
    settle(desk)
    assert {layer(desk, id)["moves"][0]["kind"] for id in ("bow", "name")} == {"spring-in"}
