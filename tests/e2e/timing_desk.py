"""A desk with layers whose keys are moved about."""

from __future__ import annotations

from tests.e2e.steps import settle

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


def open_timing_desk(page, server):
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


def choose_keys(page, *entries):
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
