"""What a person does in the editor, as small steps."""

from __future__ import annotations

from typing import Any

# A kite that turns, a bow, a name.
LINKED_LAYERS = [
    {"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 4, "properties": {}},
    {"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 4, "arrive_s": 1.0,
     "properties": {"shape.size": {"value": [300, 200]}, "position": {"value": [400, 360]},
                    "rotation": {"keys": [{"id": "a", "time_s": 0, "value": 0}, {"id": "b", "time_s": 2, "value": 90}]}}},
    {"id": "bow", "name": "Bow", "kind": "shape", "start_s": 0, "end_s": 4,
     "properties": {"shape.size": {"value": [120, 80]}, "position": {"value": [800, 360]}}},
    {"id": "name", "name": "Name", "kind": "text", "start_s": 1, "end_s": 4,
     "properties": {"text": {"value": "Gullwing"}, "position": {"value": [640, 120]}}},
]  # fmt: skip


def new_project(page, server, name: str) -> None:
    page.goto(server.url)
    page.get_by_role("button", name="New project").first.click()
    page.fill("#project-name", name)
    page.get_by_role("button", name="Create").click()
    page.wait_for_url("**/projects/*")


def new_scene(page, name: str, length: str = "2s", preset: str = "HD") -> None:
    page.get_by_role("button", name="New scene").first.click()
    page.fill("#frame-name", name)
    page.get_by_role("button", name=preset, exact=False).filter(has_text="1280").click()
    page.fill("#frame-length", length)
    page.locator("dialog[open] button.main-action").click()
    page.wait_for_url("**/scenes/*")
    settle(page)


def open_desk(page, server, name: str, layers: list[dict[str, Any]], length_s: float) -> str:
    """A project with one scene of some layers, opened in the editor; gives the project's id."""

    def post(path: str, body: dict[str, Any]) -> dict[str, Any]:
        answer = page.request.post(f"{server.url}{path}", data=body)
        assert answer.ok, answer.text()
        return answer.json()

    project = post("/api/projects", {"name": name})["project"]["id"]
    scene = {
        "id": "desk", "name": "Desk", "width": 1280, "height": 720, "rate": {"num": 25},
        "length_s": length_s,
    }  # fmt: skip
    for edit in (
        {"kind": "add-scene", "scene": scene},
        {"kind": "add-layers", "scene": "desk", "layers": layers},
    ):
        post(f"/api/projects/{project}/edits", {"edit": edit})
    page.goto(f"{server.url}/projects/{project}/scenes/desk")
    settle(page)
    return project


def settle(page) -> None:
    """Until everything is saved, every question to the server is answered and the stage shows it."""
    page.wait_for_function(
        """() => { const e = window.youngComet?.editor;
        return e && !window.asked && e.project && !e.saving && !e.inFlight && !e.dirty && !e.drafts.length && e.shownId > 0
            && window.youngComet.stage.drawn >= e.shownId; }"""
    )
    # The panels follow once the page has shown what was done.
    page.evaluate(
        """() => new Promise((done) => { let turns = 3; const turn = () =>
        turns-- ? requestAnimationFrame(() => setTimeout(turn)) : done(); turn(); })"""
    )
    page.wait_for_timeout(60)


def layers(page) -> list[dict[str, Any]]:
    return page.evaluate("youngComet.editor.layers")


def document(page) -> dict[str, Any]:
    return page.evaluate("youngComet.editor.project")


def go_to(page, time: str) -> None:
    page.fill("#time-field", time)
    page.press("#time-field", "Enter")
    settle(page)


def at(page, x: float, y: float) -> tuple[float, float]:
    """Where a point of the scene lies in the window."""
    box = page.locator("#stage").bounding_box()
    sx, sy = page.evaluate(f"youngComet.stage.toScreen([{x}, {y}])")
    return box["x"] + sx, box["y"] + sy


def drag(page, start: tuple[float, float], end: tuple[float, float], keys: str = "") -> None:
    """Points of the window; moves in steps as a hand does."""
    if keys:
        page.keyboard.down(keys)
    page.mouse.move(*start)
    page.mouse.down()
    page.wait_for_timeout(120)  # what is under the pointer is asked from the server
    page.mouse.move((start[0] + end[0]) / 2, (start[1] + end[1]) / 2, steps=4)
    page.mouse.move(*end, steps=4)
    page.wait_for_timeout(60)
    page.mouse.up()
    if keys:
        page.keyboard.up(keys)
    settle(page)


def drag_on_stage(page, start, end, keys: str = "") -> None:
    drag(page, at(page, *start), at(page, *end), keys)


def drag_element(page, locator, dx: float, dy: float = 0.0, keys: str = "") -> None:
    box = locator.bounding_box()
    start = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    drag(page, start, (start[0] + dx, start[1] + dy), keys)


def click_stage(page, x: float, y: float, **options: Any) -> None:
    page.mouse.click(*at(page, x, y), **options)
    page.wait_for_timeout(150)
    settle(page)


def field(page, property_id: str):
    return page.locator(f'.prop[data-property="{property_id}"]')


def type_number(page, property_id: str, text: str, part: int = 0) -> None:
    box = field(page, property_id).locator(f'input[data-part="{part}"]')
    box.fill(text)
    box.press("Enter")
    settle(page)


def keys_of(page, name: str, property_id: str) -> list[dict[str, Any]]:
    layer = next(la for la in layers(page) if la["name"] == name)
    return layer["properties"].get(property_id, {}).get("keys", [])


def value_of(page, name: str, property_id: str) -> Any:
    layer = next(la for la in layers(page) if la["name"] == name)
    return layer["properties"][property_id]["value"]


def choose(page, *ids: str) -> None:
    page.evaluate(f"youngComet.editor.select({list(ids)!r})")
    settle(page)


def tab(page, name: str) -> None:
    page.get_by_role("tab", name=name).click()


def layer(page, id: str) -> dict[str, Any]:
    return page.evaluate(f"youngComet.editor.layer({id!r})")


def pivot(page, id: str) -> list[float]:
    """Where a layer's pivot is seen, scene px."""
    return page.evaluate(f"youngComet.editor.view[{id!r}].pivot")


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
