"""Layers copied and pasted with the keyboard: together, at the playhead, into another project."""

from playwright.sync_api import expect
from tests.e2e.steps import document, go_to, open_desk, settle

PANEL = {"id": "panel", "name": "Panel", "kind": "shape", "start_s": 0, "end_s": 1,
         "properties": {"shape.size": {"value": [200, 60]}, "fill.colour": {"value": "ink:sun"}}}  # fmt: skip
NAME = {"id": "name", "name": "Name", "kind": "text", "start_s": 0.2, "end_s": 1,
        "properties": {"text": {"value": "Gullwing"}, "align.layer": {"value": "panel"}}}  # fmt: skip
SKY = {"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 4}


def rows(page):
    return page.locator(".row-line[data-layer]")


def test_a_lockup_is_copied_pasted_and_taken_to_another_project(page, server):
    first = open_desk(page, server, "Lockup", [SKY], 4)
    url = f"{server.url}/api/projects/{first}/edits"
    for edit in (
        {"kind": "add-inks", "inks": [{"id": "sun", "name": "Sun", "colour": "#f2c14e"}]},
        {"kind": "add-layers", "scene": "desk", "layers": [PANEL, NAME]},
    ):
        assert page.request.post(url, data={"edit": edit}).ok
    settle(page)
    page.evaluate("youngComet.editor.select(['panel', 'name'])")
    page.keyboard.press("Control+c")
    go_to(page, "2s")
    page.keyboard.press("Control+v")
    expect(rows(page)).to_have_count(5)
    layers = {la["name"]: la for la in document(page)["scenes"][0]["layers"]}
    assert layers["Panel 2"]["start_s"] == 2 and layers["Name 2"]["start_s"] == 2.2
    assert layers["Name 2"]["properties"]["align.layer"]["value"] == layers["Panel 2"]["id"]
    # They are chosen, and one step of undo takes them away.
    assert page.evaluate("youngComet.editor.selected.size") == 2
    page.keyboard.press("Control+z")
    expect(rows(page)).to_have_count(3)

    open_desk(page, server, "Elsewhere", [SKY], 4)
    page.keyboard.press("Control+Shift+v")
    expect(rows(page)).to_have_count(3)
    settle(page)
    there = document(page)
    assert [ink["name"] for ink in there["inks"]] == ["Sun"]
    _, panel, name = there["scenes"][0]["layers"]
    assert panel["start_s"] == 0 and panel["properties"]["fill.colour"]["value"] == "ink:sun"
    assert name["properties"]["align.layer"]["value"] == panel["id"]
