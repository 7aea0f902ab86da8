"""The first picture of a server that has just been started: from a bare client's request, sent as
soon as the server answers at all, to the frame, at 960 x 540."""

from __future__ import annotations

import asyncio
import json
import statistics
import struct
import tempfile
import time

import websockets
from dragging import serving

from young_comet.demo import DEMO_ID

STARTS = 5
SCENES = {"opener": 5.0, "logo-reveal": 2.4, "kinetic-title": 5.0, "lower-third": 2.0}


async def first_picture(address: str, scene_id: str, time_s: float) -> float:
    """Seconds from a request to its picture."""
    url = f"{address.replace('http', 'ws')}/live/{DEMO_ID}/{scene_id}"
    async with websockets.connect(url, max_size=None, compression=None, origin=address) as socket:
        began = time.perf_counter()
        await socket.send(json.dumps({"type": "stage", "id": 1, "time_s": time_s, "height": 540}))
        while True:
            message = await socket.recv()
            if isinstance(message, bytes):
                size = struct.unpack(">I", message[:4])[0]
                if json.loads(message[4 : 4 + size]).get("type") == "stage":
                    return time.perf_counter() - began


def main() -> None:
    with tempfile.TemporaryDirectory() as data:
        with serving(data):
            pass  # the demo is built
        for scene_id, time_s in SCENES.items():
            took = []
            for _ in range(STARTS):
                with serving(data) as address:
                    took.append(asyncio.run(first_picture(address, scene_id, time_s)) * 1e3)
            print(
                f"{scene_id}: first picture of a cold server, median {statistics.median(took):.0f}"
                f" ms, {min(took):.0f} to {max(took):.0f}, of {STARTS} starts"
            )


if __name__ == "__main__":
    main()
