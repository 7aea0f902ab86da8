"""What several tests of the web do first."""

import json
import struct

import cv2
import numpy as np

HEADERS = {"host": "127.0.0.1:8765", "origin": "http://127.0.0.1:8765"}

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


def connect(client, project_id, **headers):
    return client.websocket_connect(
        f"ws://127.0.0.1:8765/live/{project_id}/reveal", headers={**HEADERS, **headers}
    )


def unpack(data):
    (length,) = struct.unpack(">I", data[:4])
    header = json.loads(data[4 : 4 + length])
    body = np.frombuffer(data[4 + length :], np.uint8)
    if "raw" in header:
        width, height = header["raw"]
        return header, cv2.cvtColor(body.reshape(height, width, 4), cv2.COLOR_RGBA2BGR)
    return header, cv2.imdecode(body, 1)


def receive(socket, kind):
    """The next message of a type, whatever comes before it."""
    for _ in range(400):
        message = socket.receive()
        if message.get("bytes"):
            header, picture = unpack(message["bytes"])
        elif message["type"] == "websocket.close":
            raise AssertionError(message)
        else:
            header, picture = json.loads(message["text"]), None
        if header["type"] == kind:
            return header, picture
    raise AssertionError(f"no {kind} came")
