"""Looks as a person makes them: masks, points, effects, mattes, drawings."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect
from tests.core.media.test_vector import SVG
from tests.e2e.steps import (
    OneStep,
    at,
    click_stage,
    document,
    drag,
    drag_on_stage,
    field,
    open_desk,
    settle,
    type_number,
)

pytestmark = pytest.mark.xdist_group("browser-2")

LAYERS = [
    {"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 3, "properties": {}},
    {"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 3,
     "properties": {"shape.size": {"value": [400, 300]}, "position": {"value": [500, 360]}}},
    {"id": "name", "name": "Name", "kind": "text", "start_s": 0, "end_s": 3,
     "properties": {"text": {"value": "Bay"}, "position": {"value": [1000, 200]}}},
]  # fmt: skip


@pytest.fixture
def desk(page, server):
    """A scene with three layers, opened with the kite selected and the Looks tab shown."""
    page.project = open_desk(page, server, "Looks", LAYERS, 3.0)
    choose(page, "kite")
    return page


def choose(page, *ids):
    page.evaluate("ids => youngComet.editor.select(ids)", list(ids))
    settle(page)
    page.get_by_role("tab", name="Looks").click()
    settle(page)


def layer(page, id="kite"):
    return page.evaluate(f"youngComet.editor.layer('{id}')")


def colour(page, x, y):
    url = f"{page.url.split('/projects')[0]}/api/projects/{page.project}/scenes/desk/colour"
    return page.request.get(url, params={"time_s": 0, "x": x, "y": y}).json()["colour"]


ORANGE = "#ff7a45"


def test_a_rectangle_mask_is_drawn_on_the_stage(desk):
    with OneStep(desk):
        desk.get_by_role("button", name="A rectangular mask").click()
        drag_on_stage(desk, (420, 300), (580, 420))
    assert [mask["name"] for mask in layer(desk)["masks"]] == ["Rectangle"]
    assert colour(desk, 500, 360) == ORANGE and colour(desk, 350, 360) != ORANGE
    with OneStep(desk):
        desk.get_by_role("button", name="inverted").click()
    assert colour(desk, 500, 360) != ORANGE and colour(desk, 350, 360) == ORANGE


def test_the_pen_draws_a_mask_with_corners_and_curves(desk):
    desk.get_by_role("button", name="Draw a mask with the pen").click()
    with OneStep(desk):
        for x, y in ((420, 280), (600, 280)):
            desk.mouse.click(*at(desk, x, y))
            desk.wait_for_timeout(500)
        drag(desk, at(desk, 600, 440), at(desk, 520, 470))
        desk.wait_for_timeout(500)
        desk.mouse.click(*at(desk, 420, 280))
    path = layer(desk)["properties"]["mask." + layer(desk)["masks"][0]["id"] + ".path"]["value"]
    assert path.count("C") >= 1 and path.endswith("Z")
    assert colour(desk, 560, 320) == ORANGE and colour(desk, 330, 480) != ORANGE


def test_points_are_dragged_added_and_taken_away(desk):
    desk.get_by_role("button", name="A rectangular mask").click()
    drag_on_stage(desk, (420, 300), (580, 420))
    desk.locator("[data-mask] .chip", has_text="points").click()
    settle(desk)
    name = "mask." + layer(desk)["masks"][0]["id"] + ".path"
    with OneStep(desk):
        drag_on_stage(desk, (580, 300), (640, 260))
    assert "L140 -100" in layer(desk)["properties"][name]["value"]
    with OneStep(desk):
        x, y = at(desk, 500, 420)
        desk.mouse.click(x, y)
        desk.wait_for_timeout(120)
        desk.mouse.click(x, y)
        settle(desk)
    assert layer(desk)["properties"][name]["value"].count("L") == 4
    with OneStep(desk):
        desk.keyboard.down("Alt")
        desk.mouse.click(*at(desk, 640, 260))
        desk.keyboard.up("Alt")
        settle(desk)
    assert "140 -100" not in layer(desk)["properties"][name]["value"]
    with OneStep(desk):
        desk.keyboard.press("Control+a")
        desk.evaluate(
            "youngComet.editor.mode.points.size > 2 || (() => { throw new Error('no points') })()"
        )
        drag_on_stage(desk, (420, 300), (430, 310))
    desk.keyboard.press("Escape")
    desk.keyboard.press("Escape")
    assert desk.evaluate("youngComet.editor.mode.property") is None


def test_a_half_plane_follows_a_line(desk):
    with OneStep(desk):
        desk.get_by_role("button", name="A half plane").click()
    with OneStep(desk):
        drag_on_stage(desk, (500, 360), (560, 360))
    assert colour(desk, 540, 300) != ORANGE and colour(desk, 600, 300) == ORANGE
    with OneStep(desk):
        desk.get_by_label("Where the mask lies").select_option(label="follows Name")
    mask = layer(desk)["masks"][0]
    assert (mask["space"], mask["follows"]) == ("follow", "name")
    assert colour(desk, 540, 300) != ORANGE and colour(desk, 600, 300) == ORANGE
    desk.evaluate(
        "youngComet.editor.edit(youngComet.editor.set([{layer: 'name', property: 'position', value: [900, 200]}]))"
    )
    settle(desk)
    assert colour(desk, 540, 300) == ORANGE


def test_a_mask_is_taken_from_a_text_and_pasted_to_another_layer(desk):
    with OneStep(desk):
        desk.get_by_label("Mask from a shape or text").select_option(label="Name")
    assert layer(desk)["masks"][0]["name"] == "Name"
    desk.get_by_role("button", name="Copy the mask").click()
    choose(desk, "sky")
    with OneStep(desk):
        desk.get_by_role("button", name="Paste masks in place").click()
    assert len(layer(desk, "sky")["masks"]) == 1


def test_an_effect_is_found_added_set_keyed_and_switched_off(desk):
    desk.keyboard.press("Control+e")
    desk.get_by_label("Search effects").fill("drop")
    assert desk.locator(".effect-entry").count() == 1
    with OneStep(desk):
        desk.keyboard.press("Enter")
        desk.wait_for_function("() => !document.querySelector('dialog[open]')")
    (effect,) = layer(desk)["effects"]
    assert effect["kind"] == "drop-shadow"
    distance = f"effect.{effect['id']}.distance"
    with OneStep(desk):
        type_number(desk, distance, "40+10")
    assert layer(desk)["properties"][distance]["value"] == 50
    with OneStep(desk):
        field(desk, distance).locator(".keystate").click()
    assert layer(desk)["properties"][distance]["keys"][0]["value"] == 50
    assert desk.locator('[data-lane="' + distance + '"]').first.is_visible()
    with OneStep(desk):
        desk.get_by_label("Effect on").uncheck()
    assert layer(desk)["effects"][0]["on"] is False
    # Its settings are pictures of this layer.
    card = desk.locator(f"[data-effect='{effect['id']}']")
    picture = card.locator("[data-setting=hard] img")
    desk.wait_for_function(
        "() => document.querySelector('[data-setting=hard] img')?.naturalWidth === 176"
    )
    assert picture.get_attribute("src") != card.locator("[data-setting=near] img").get_attribute(
        "src"
    )
    with OneStep(desk):
        card.locator("[data-setting=hard]").click()
    values = layer(desk)["properties"]
    assert values[f"effect.{effect['id']}.softness"]["value"] == 0
    assert values[distance]["keys"]  # what is animated stays


def test_an_effect_that_looks_at_another_layer_says_so_and_takes_one(desk):
    desk.keyboard.press("Control+e")
    desk.get_by_label("Search effects").fill("displacement")
    desk.get_by_role("button", name="Displacement", exact=True).click()
    settle(desk)
    card = desk.locator("[data-effect][data-kind=displacement]")
    note = card.locator(".wants-note")
    expect(note).to_contain_text("looks at another layer: choose one")
    assert note.locator("[data-offer]").all_inner_texts() == ["Name", "Sky"]
    with OneStep(desk):
        note.get_by_role("button", name="Sky").click()
        settle(desk)
    effect = layer(desk)["effects"][0]["id"]
    assert layer(desk)["properties"][f"effect.{effect}.layer"]["value"] == "sky"
    expect(note).to_be_hidden()
    desk.keyboard.press("Control+z")
    expect(note).to_be_visible()
    assert f"effect.{effect}.layer" not in layer(desk)["properties"]


def test_a_gradient_is_mixed_as_chosen_and_its_line_goes_with_its_fields(desk):
    """The bar, the stage and the line: all tell of the way between the stops."""
    desk.get_by_role("tab", name="Selection").click()
    field(desk, "fill.kind").locator("select").select_option("linear")
    settle(desk)
    bar = desk.locator('[data-stops="fill.stops"]')
    expect(bar).to_have_css("background-image", re.compile("gradient.png.*mixing=around"))
    shown = bar.evaluate("bar => getComputedStyle(bar).backgroundImage.slice(5, -2)")
    assert desk.request.get(shown).ok
    around = colour(desk, 500, 360)
    field(desk, "fill.mixing").locator("select").select_option("plain")
    settle(desk)
    expect(bar).to_have_css("background-image", re.compile("linear-gradient"))
    assert colour(desk, 500, 360) != around
    line = desk.locator('[data-gradient="end"]')
    expect(line).to_be_visible()
    desk.get_by_role("tab", name="Looks").click()
    expect(line).to_have_count(0)
    desk.get_by_role("tab", name="Selection").click()
    expect(line).to_be_visible()
    desk.locator(".section-head", has_text=re.compile("^Fill$")).click()
    expect(line).to_have_count(0)


def test_effects_are_ordered_duplicated_saved_and_put_elsewhere(desk):
    for kind in ("glow", "outline"):
        desk.evaluate(
            """kind => youngComet.editor.edit({kind: 'add-members', family: 'effect', scene: 'desk', layers: ['kite'], members: [{member: {id: kind, kind}}]})""",
            kind,
        )
        settle(desk)
    handle = desk.locator('[data-effect="outline"] .dragger').bounding_box()
    target = desk.locator('[data-effect="glow"]').bounding_box()
    with OneStep(desk):
        drag(desk, (handle["x"] + 5, handle["y"] + 5), (target["x"] + 20, target["y"] - 4))
    assert [effect["kind"] for effect in layer(desk)["effects"]] == ["outline", "glow"]
    with OneStep(desk):
        desk.locator('[data-effect="glow"]').get_by_label("Duplicate the effect").click()
    assert [effect["kind"] for effect in layer(desk)["effects"]] == ["outline", "glow", "glow"]
    with OneStep(desk):
        desk.get_by_label("More for effects").first.click()
        desk.get_by_role("button", name="Save as a set").click()
    assert [each["name"] for each in document(desk)["effect_sets"]] == ["Kite looks"]
    choose(desk, "name")
    with OneStep(desk):
        desk.get_by_label("Put on a saved set").select_option(label="Kite looks")
    assert [effect["kind"] for effect in layer(desk, "name")["effects"]] == [
        "outline",
        "glow",
        "glow",
    ]


def test_the_picture_is_seen_without_effects_while_a_key_is_held(desk):
    desk.evaluate(
        "youngComet.editor.edit({kind: 'add-members', family: 'effect', scene: 'desk', layers: ['kite'], members: [{member: {id: 'f', kind: 'invert'}}]})"
    )
    settle(desk)
    desk.evaluate("document.activeElement.blur()")
    desk.keyboard.down("0")
    settle(desk)
    assert desk.evaluate("youngComet.editor.bare") is True
    desk.keyboard.up("0")
    settle(desk)
    assert desk.evaluate("youngComet.editor.bare") is False


def test_blend_modes_are_stepped_through_and_a_matte_is_chosen(desk):
    with OneStep(desk):
        field(desk, "blend").get_by_label("The next one").click()
    assert layer(desk)["properties"]["blend"]["value"] == "multiply"
    desk.get_by_role("button", name="Matte").click()
    with OneStep(desk):
        field(desk, "matte.layer").locator("select").select_option(label="Name")
    assert layer(desk)["properties"]["matte.layer"]["value"] == "name"


def test_a_curve_is_bent_and_a_place_is_dragged(desk):
    desk.evaluate(
        "youngComet.editor.edit({kind: 'add-members', family: 'effect', scene: 'desk', layers: ['kite'], members: [{member: {id: 'c', kind: 'curves'}}]}).then(() => youngComet.editor.tell('effect-added', 'c'))"
    )
    settle(desk)
    box = desk.locator('[data-curve="effect.c.rgb"]')
    box.scroll_into_view_if_needed()
    where = box.bounding_box()
    with OneStep(desk):
        drag(
            desk,
            (where["x"] + where["width"] * 0.5, where["y"] + where["height"] * 0.5),
            (where["x"] + where["width"] * 0.5, where["y"] + where["height"] * 0.25),
        )
    points = layer(desk)["properties"]["effect.c.rgb"]["value"]
    assert len(points) == 3 and points[1][1] == pytest.approx(0.77, abs=0.06)
    desk.evaluate(
        "youngComet.editor.edit({kind: 'add-members', family: 'effect', scene: 'desk', layers: ['kite'], members: [{member: {id: 's', kind: 'swirl'}}]}).then(() => youngComet.editor.tell('effect-added', 's'))"
    )
    settle(desk)
    field(desk, "effect.s.centre").get_by_label("Its handle on the stage").click()
    settle(desk)
    with OneStep(desk):
        drag_on_stage(desk, (500, 360), (560, 320))
    assert layer(desk)["properties"]["effect.s.centre"]["value"] == pytest.approx(
        [60, -40], abs=1.5
    )


def test_a_vector_picture_becomes_a_drawing_whose_colours_change(desk, server):
    answer = desk.request.post(
        f"{server.url}/api/projects/{desk.project}/assets?name=boat.svg", data=SVG.encode()
    )
    assert answer.ok
    desk.reload()
    settle(desk)
    desk.get_by_role("tab", name="Assets").click()
    desk.locator(".asset").first.hover()
    with OneStep(desk):
        desk.get_by_label("Place it as a shape with editable paths").click()
        desk.wait_for_function("() => youngComet.editor.layers.some((each) => each.parts.length)")
    choose(desk, desk.evaluate("youngComet.editor.layers.find((each) => each.parts.length).id"))
    desk.get_by_role("tab", name="Selection").click()
    settle(desk)
    assert desk.locator(".card-look[data-part]:visible").count() == 6
    assert desk.locator(".colour-list .swatch").count() >= 4
    assert desk.get_by_text("Not kept").first.is_visible() or desk.locator(".toast-note").count()


def test_the_pen_draws_a_shape_and_shapes_are_joined(desk):
    with OneStep(desk):
        desk.keyboard.press("Escape")
        desk.locator('[data-tool="pen"]').click()
        for x, y in ((700, 500), (900, 500), (900, 640)):
            desk.mouse.click(*at(desk, x, y))
            desk.wait_for_timeout(460)
        desk.keyboard.press("Enter")
    drawn = next(
        each for each in desk.evaluate("youngComet.editor.layers") if each["name"] == "Path"
    )
    assert drawn["properties"]["position"]["value"] == [800, 570]
    choose(desk, "kite", drawn["id"])
    with OneStep(desk):
        desk.keyboard.press("Control+k")
        desk.keyboard.type("unite")
        desk.keyboard.press("Enter")
    assert [each["id"] for each in desk.evaluate("youngComet.editor.layers")] == [
        "sky",
        "kite",
        "name",
    ]
    click_stage(desk, 30, 30)


def test_a_treatment_and_motion_blur_of_the_scene(desk):
    desk.evaluate("youngComet.editor.select([])")
    settle(desk)
    desk.get_by_role("tab", name="Selection").click()
    # A new scene has it: what moves is smeared unless somebody says otherwise.
    assert document(desk)["scenes"][0]["shutter"]["on"] is True
    with OneStep(desk):
        desk.get_by_label("Motion blur of the scene").uncheck()
    assert document(desk)["scenes"][0]["shutter"]["on"] is False
    with OneStep(desk):
        desk.get_by_label("Viewing distance").fill("900")
        desk.get_by_label("Viewing distance").press("Enter")
    with OneStep(desk):
        desk.get_by_role("button", name="layer", exact=True).click()
        desk.get_by_role("button", name="Treatment of all below").click()
    assert desk.evaluate("youngComet.editor.layers.at(-1).kind") == "treatment"


def test_a_text_follows_a_path_that_the_pen_draws_and_travels_along_it(desk):
    choose(desk, "name")
    desk.get_by_role("tab", name="Selection").click()
    row = desk.locator(".prop[data-property='text.path']:visible")
    assert not desk.locator(".prop[data-property='text.path-offset']:visible").count()
    row.get_by_label("Draw it with the pen").click()
    with OneStep(desk):
        for start, end in (((300, 500), (400, 400)), ((700, 400), (800, 480))):
            drag(desk, at(desk, *start), at(desk, *end))
            desk.wait_for_timeout(500)
        desk.keyboard.press("Enter")
    path = layer(desk, "name")["properties"]["text.path"]["value"]
    # Drawn in the scene, kept in the space of the layer, which lies at (1000, 200).
    assert path.startswith("M-700 300 C-600 200")
    box = desk.evaluate("youngComet.editor.view.name.box")
    assert box[0] < -700 and box[2] > -300
    assert desk.evaluate("youngComet.editor.mode.property") == "text.path"
    with OneStep(desk):
        drag_on_stage(desk, (700, 400), (700, 460))
    assert "-300 260" in layer(desk, "name")["properties"]["text.path"]["value"]
    with OneStep(desk):
        type_number(desk, "text.path-offset", "25")
    assert layer(desk, "name")["properties"]["text.path-offset"]["value"] == 25
    with OneStep(desk):
        row.get_by_label("The outline of a layer").select_option("kite")
    path = layer(desk, "name")["properties"]["text.path"]["value"]
    assert path.endswith("Z") and "-700 10" in path  # the kite's upper left corner, (300, 210)
    with OneStep(desk):
        row.get_by_label("Remove the path").click()
    assert "text.path" not in layer(desk, "name")["properties"]


def test_a_path_is_typed_and_a_mistake_is_named(desk):
    choose(desk, "name")
    desk.get_by_role("tab", name="Selection").click()
    row = desk.locator(".prop[data-property='text.path']:visible")
    row.get_by_label("As SVG path data").click()
    box = desk.get_by_label("SVG path data", exact=True)
    with OneStep(desk):
        box.fill("M-200 0 Q0 -200 200 0")
        box.press("Tab")
    assert layer(desk, "name")["properties"]["text.path"]["value"].startswith("M-200 0")
    row.get_by_label("Edit its points").click()
    with OneStep(desk):
        desk.get_by_role("button", name="Corners").click()
    assert layer(desk, "name")["properties"]["text.path"]["value"] == "M-200 0 L200 0"
    with OneStep(desk):
        desk.get_by_role("button", name="Close/open").click()
    assert layer(desk, "name")["properties"]["text.path"]["value"] == "M-200 0 L200 0 Z"
    box.fill("M-200 0 Q0")
    box.press("Tab")
    desk.get_by_text("expected SVG path data").first.wait_for()
    assert layer(desk, "name")["properties"]["text.path"]["value"] == "M-200 0 L200 0 Z"


def test_a_layer_is_cut_along_lines_that_the_pen_draws(desk):
    desk.get_by_role("tab", name="Selection").click()
    desk.get_by_role("button", name="Slices").click()
    desk.locator(".prop[data-property='slices.kind']:visible select").select_option("lines")
    settle(desk)
    row = desk.locator(".prop[data-property='slices.lines']:visible")
    for line in (((250, 300), (750, 330)), ((450, 150), (480, 560))):
        row.get_by_label("Draw a line more with the pen").click()
        with OneStep(desk):
            for point in line:
                desk.mouse.click(*at(desk, *point))
                desk.wait_for_timeout(460)
            desk.keyboard.press("Enter")
    lines = layer(desk)["properties"]["slices.lines"]["value"]
    assert lines.count("M") == 2
    with OneStep(desk):
        desk.keyboard.press("Control+k")
        desk.keyboard.type("sliced layer")
        desk.keyboard.press("Enter")
    names = [each["name"] for each in desk.evaluate("youngComet.editor.layers")]
    assert len([name for name in names if name.startswith("Kite")]) == 4
