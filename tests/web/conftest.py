from __future__ import annotations

from collections.abc import Iterator

import pytest
from fastapi.testclient import TestClient
from tests.web.steps import BOX, SCENE, edit

from young_comet.config import Config
from young_comet.web import create_app


@pytest.fixture
def client(config: Config) -> Iterator[TestClient]:
    with TestClient(create_app(config), base_url="http://127.0.0.1:8765") as client:
        yield client


@pytest.fixture
def project_id(client):
    made = client.post("/api/projects", json={"name": "Kite Week"})
    assert made.status_code == 201
    project_id = made.json()["project"]["id"]
    assert edit(client, project_id, {"kind": "add-scene", "scene": SCENE}).status_code == 200
    layers = {"kind": "add-layers", "scene": "reveal", "layers": [BOX]}
    assert edit(client, project_id, layers).status_code == 200
    return project_id
