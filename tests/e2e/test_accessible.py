"""Every page and panel with axe-core in both themes, what is pressed is large enough, keys alone."""

from __future__ import annotations

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect
from tests.e2e.steps import choose, layers, open_desk, settle

AXE = Axe()
# What has a keyboard equivalent on the page: lines between its parts (WCAG 2.2, 2.5.8, "equivalent").
LINES = "[role=separator]"
SMALL = """() => [...document.querySelectorAll('button, a[href], input, select, textarea, [role=tab]')]
    .filter((each) => each.offsetParent && !each.disabled && getComputedStyle(each).visibility !== 'hidden')
    .map((each) => {
        const { width, height } = each.getBoundingClientRect();
        const grow = each.matches('.switch') ? [4, 10] : [0, 0];
        return [width + grow[0], height + grow[1], each.outerHTML.slice(0, 120)];
    }).filter(([width, height]) => width < 23.5 || height < 23.5)"""


def serious(page, within=None):
    # What is not a matter of colours is the same in both themes.
    colours = page.evaluate("document.documentElement.dataset.bsTheme") == "light"
    rules = {"runOnly": {"type": "rule", "values": ["color-contrast"]}} if colours else None
    found = AXE.run(page, context=within, options=rules).response["violations"]
    return [
        (each["id"], node["html"][:160])
        for each in found
        if each["impact"] in ("serious", "critical")
        for node in each["nodes"]
    ]


def fine(page, where, within=None):
    assert serious(page, within) == [], where
    assert page.evaluate(SMALL) == [], where


def text(id, name):
    return {"id": id, "name": name, "kind": "text", "start_s": 0, "end_s": 2, "arrive_s": 0.5,
            "moves": [{"id": "m", "kind": "lift", "phase": "arrive"}],
            "effects": [{"id": "glow-1", "kind": "glow"}], "masks": [{"id": "edge", "name": "Edge"}],
            "properties": {"text": {"value": name}, "opacity": {"keys": [
                {"id": "k0", "time_s": 0, "value": 0}, {"id": "k1", "time_s": 1, "value": 100}]}}}  # fmt: skip


@pytest.fixture(params=["dark", "light"])
def desk(page, server, request):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.add_init_script(f"localStorage.setItem('theme', '{request.param}')")
    shape = {
        "id": "sail",
        "name": "Sail",
        "kind": "shape",
        "start_s": 0,
        "end_s": 2,
        "properties": {},
    }
    page.project = open_desk(page, server, "For all", [shape, text("words", "Gullwing")], 2.0)
    return page


def test_pages_have_nothing_serious_and_nothing_too_small(desk, server):
    for path in ("/", f"/projects/{desk.project}", "/renders", "/help"):
        desk.goto(server.url + path)
        desk.wait_for_timeout(400)
        fine(desk, path)


def test_panels_have_nothing_serious_and_nothing_too_small(desk):
    for ids in ((), ("words",), ("sail", "words")):
        choose(desk, *ids)
        for name in ("Selection", "Looks", "Moves", "Timing", "Assets", "Inks"):
            desk.get_by_role("tab", name=name).click()
            desk.evaluate(
                """() => document.querySelectorAll('.column-body [aria-expanded=false]')
                .forEach((each) => each.offsetParent && each.click())"""
            )
            desk.wait_for_timeout(150)
            fine(desk, (name, ids), within=".column")
    choose(desk, "words")
    desk.locator('.row-line[data-layer="words"] [data-fold]').click()
    settle(desk)
    fine(desk, "lanes")


def test_arrangements_have_nothing_serious_and_nothing_too_small(desk):
    for time_s in (0, 0.8, 1.4):
        desk.evaluate(
            f"""youngComet.editor.edit({{ kind: 'add-arrangement', scene: 'desk',
            time_s: {time_s} }})"""
        )
        settle(desk)
    desk.evaluate(
        """youngComet.editor.edit({ kind: 'change-arrangement', scene: 'desk', hold_s: 0,
        arrangement: youngComet.editor.scene.arrangements[1].id })"""
    )
    settle(desk)
    choose(desk, "sail", "words")
    for name in ("Selection", "Timing"):
        desk.get_by_role("tab", name=name).click()
        desk.wait_for_timeout(200)
        fine(desk, name)
    expect(desk.locator("[data-arrangement]")).to_have_count(3)


@pytest.mark.parametrize(
    "event",
    ["open-finder", "open-keys", "open-history", "open-render", "open-effects", "change-frame"],
)
def test_sheets_have_nothing_serious(desk, event):
    choose(desk, "words")
    desk.evaluate(f"window.dispatchEvent(new Event('{event}'))")
    desk.wait_for_timeout(400)
    assert serious(desk) == [], event


def test_lines_between_the_parts_are_moved_by_keys(desk):
    for id, key, name in (
        ("column-grip", "ArrowLeft", ".column"),
        ("names-grip", "ArrowRight", ".ruler-left"),
        ("lower-grip", "ArrowUp", ".lower"),
    ):
        side = "height" if name == ".lower" else "width"
        before = desk.locator(name).bounding_box()[side]
        desk.locator(f"#{id}").focus()
        desk.keyboard.press(key)
        assert desk.locator(name).bounding_box()[side] == pytest.approx(before + 20, abs=1)
    desk.locator("#column-grip").dblclick()
    assert desk.locator(LINES).count() == 3
    assert layers(desk)[0]["id"] == "sail"
    expect(desk.locator(".column")).to_be_visible()


def test_the_timeline_is_worked_by_keys_and_says_where_it_is(desk):
    said = desk.locator("#announce")
    rows = desk.locator("#rows")
    rows.focus()
    expect(said).to_contain_text("Gullwing, text")
    desk.keyboard.press("ArrowDown")
    expect(said).to_contain_text("Sail, shape")
    assert desk.evaluate("[...youngComet.editor.selected]") == ["sail"]
    desk.keyboard.press("Home")
    desk.keyboard.press("ArrowRight")
    expect(said).to_contain_text("open")
    desk.wait_for_selector('.lane-line[data-lane="opacity"]')
    desk.keyboard.press("ArrowRight")
    expect(said).to_contain_text("Key 1 of 2: Opacity of Gullwing, 0 at 00:00:00")
    desk.keyboard.press("ArrowRight")
    expect(said).to_contain_text("Key 2 of 2")
    desk.keyboard.press("Alt+ArrowRight")
    settle(desk)
    key = desk.evaluate("youngComet.editor.layer('words').properties.opacity.keys[1].time_s")
    assert key == pytest.approx(1.04)
    for _ in range(2):
        desk.keyboard.press("ArrowLeft")
    expect(said).to_contain_text("Gullwing, text")
    desk.keyboard.press("Alt+Shift+ArrowRight")
    settle(desk)
    assert desk.evaluate("youngComet.editor.layer('words').start_s") == pytest.approx(0.4)
    desk.evaluate("youngComet.editor.goTo(20)")
    desk.keyboard.press("Alt+Shift+Home")
    settle(desk)
    assert desk.evaluate("youngComet.editor.layer('words').start_s") == pytest.approx(0.8)


def test_after_a_click_on_a_row_left_and_right_are_frames(desk):
    desk.locator('.row-line[data-layer="words"] .row-name').click()
    settle(desk)
    desk.keyboard.press("ArrowRight")
    desk.keyboard.press("ArrowRight")
    settle(desk)
    assert desk.evaluate("youngComet.editor.frame") == 2
    assert desk.evaluate("[...youngComet.editor.openLayers]") == []
    desk.keyboard.press("ArrowDown")
    settle(desk)
    assert desk.evaluate("[...youngComet.editor.selected]") == ["sail"]


def test_tools_and_tabs_are_one_stop_each_with_arrows_inside(desk):
    desk.locator("#stage").focus()
    desk.keyboard.press("Tab")
    focused = "document.activeElement.dataset.tool || document.activeElement.textContent.trim()"
    assert desk.evaluate(focused) == "select"
    desk.keyboard.press("ArrowDown")
    assert desk.evaluate(focused) == "rectangle"
    desk.keyboard.press("Enter")
    expect(desk.locator('[data-tool="rectangle"]')).to_have_attribute("aria-pressed", "true")
    desk.keyboard.press("Tab")
    assert desk.evaluate("document.activeElement.closest('#tools')") is None
    desk.get_by_role("tab", name="Selection").focus()
    desk.keyboard.press("ArrowRight")
    assert desk.evaluate(focused) == "Looks"
    expect(desk.get_by_role("tab", name="Looks")).to_have_attribute("aria-selected", "true")
    desk.keyboard.press("End")
    expect(desk.get_by_role("tab", name="Inks")).to_have_attribute("aria-selected", "true")


def find(page, words):
    page.keyboard.press("Control+k")
    expect(page.get_by_role("dialog", name="Find anything")).to_be_visible()
    page.keyboard.type(words)
    page.wait_for_timeout(150)
    page.keyboard.press("Enter")
    page.wait_for_timeout(200)


def test_from_an_empty_project_to_a_render_by_keys_alone(page, server):
    """No pointer at all: a project, a scene, a text with a move and a look, a render."""
    page.goto(server.url)
    page.get_by_role("button", name="New project").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator("#project-name")).to_be_focused()
    page.keyboard.type("By keys")
    page.keyboard.press("Enter")
    page.wait_for_url("**/projects/*")
    page.get_by_role("button", name="New scene").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator("#frame-name")).to_be_focused()
    page.keyboard.type("Title")
    page.keyboard.press("Enter")
    page.wait_for_url("**/scenes/*")
    settle(page)
    find(page, "add a text")
    settle(page)
    find(page, "write in the text")
    page.keyboard.press("Control+a")
    page.keyboard.type("Gullwing")
    page.keyboard.press("Escape")
    settle(page)
    assert layers(page)[0]["properties"]["text"]["value"] == "Gullwing"
    find(page, "lift")
    settle(page)
    find(page, "font size")
    page.keyboard.press("Control+a")
    page.keyboard.type("90")
    page.keyboard.press("Enter")
    settle(page)
    find(page, "drop shadow")
    settle(page)
    (found,) = layers(page)
    assert found["moves"] and found["effects"] and found["properties"]["text.size"]["value"] == 90
    find(page, "render...")
    sheet = page.locator("dialog[open]")
    expect(sheet).to_contain_text("Render")
    page.keyboard.press("Tab")
    sheet.locator("button.main-action").focus()
    page.keyboard.press("Enter")
    expect(sheet).to_have_count(0)
    found = page.request.get(f"{server.url}/api/renders").json()
    (made,) = [each for each in found if each["project_name"] == "By keys"]
    assert made["scene_name"] == "Title"
    page.request.post(f"{server.url}/api/renders/{made['id']}/cancel")
