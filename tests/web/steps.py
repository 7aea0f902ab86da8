"""What several tests of the web do first."""

SCENE = {
    "id": "reveal",
    "name": "Logo reveal",
    "width": 320,
    "height": 180,
    "rate": {"num": 25},
    "length_s": 2.0,
}
BOX = {"id": "box", "name": "Box", "kind": "shape", "start_s": 0, "end_s": 2,
       "properties": {"shape.size": {"value": [100, 60]}, "fill.colour": {"value": "#ff7a45"}}}  # fmt: skip


def edit(client, project_id, data, base=None):
    return client.post(
        f"/api/projects/{project_id}/edits", json={"edit": data, "base_revision": base}
    )
