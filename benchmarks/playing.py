"""Playing the demo scenes at 960 x 540: the server alone, then what headless Chromium presents."""

from __future__ import annotations

import asyncio
import json
import shutil
import struct
import tempfile
import time
import urllib.request

import websockets
from dragging import FLAGS, serving
from playwright.sync_api import sync_playwright

from young_comet.demo import DEMO_ID

HEIGHT = 540


def scenes(address: str) -> list[dict]:
    with urllib.request.urlopen(f"{address}/api/projects/{DEMO_ID}") as answer:
        return json.load(answer)["project"]["scenes"]


async def first_play(address: str, scene: dict) -> tuple[int, float]:
    """Frames of a scene and the seconds until a bare client has them all, nothing kept before."""
    count = round(scene["length_s"] * scene["rate"]["num"] / scene["rate"]["den"])
    url = f"{address.replace('http', 'ws')}/live/{DEMO_ID}/{scene['id']}"
    async with websockets.connect(url, max_size=None, compression=None, origin=address) as socket:
        start = time.perf_counter()
        await socket.send(
            json.dumps({"type": "fill", "id": 1, "first": 0, "count": count, "height": HEIGHT})
        )
        frames = 0
        while True:
            message = await socket.recv()
            if isinstance(message, bytes):
                size = struct.unpack(">I", message[:4])[0]
                header = json.loads(message[4 : 4 + size])
            else:
                header = json.loads(message)
            frames += header["type"] == "frame"
            if header["type"] == "filled":
                return frames, time.perf_counter() - start


def presented(address: str, scene: dict) -> list[int]:
    """Pictures the page really puts on its stage, second by second, the second time a scene
    is played: the first time is over when every frame is there."""
    seconds = int(scene["length_s"])
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=shutil.which("chromium"), args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/projects/{DEMO_ID}/scenes/{scene['id']}")
        page.wait_for_function("() => window.youngComet?.player?.signatures.length", timeout=60_000)
        page.evaluate("() => { youngComet.editor.goTo(0); youngComet.player.play(); }")
        page.wait_for_function(
            """() => {
              const { player, editor } = youngComet;
              for (let i = editor.range[0]; i < editor.range[1]; i += 1)
                if (!player.ready(i)) return false;
              return true;
            }""",
            timeout=180_000,
        )
        result = page.evaluate(
            """async (seconds) => {
              const { player, editor } = youngComet;
              player.pause();
              editor.goTo(0);
              await new Promise((done) => setTimeout(done, 500));
              const times = [];
              const show = player.show;
              player.show = (bitmap) => { times.push(performance.now()); show(bitmap); };
              await player.play();
              await new Promise((done) => setTimeout(done, seconds * 1000 + 300));
              player.pause();
              player.show = show;
              const counts = Array(seconds).fill(0);
              for (const time of times) {
                const second = Math.floor((time - times[0]) / 1000);
                if (second < seconds) counts[second] += 1;
              }
              return counts;
            }""",
            seconds,
        )
        browser.close()
        return result


def main() -> None:
    folder = tempfile.mkdtemp()
    with serving(folder) as address:
        time.sleep(8)  # the processes that draw are up
        for scene in scenes(address):
            frames, seconds = asyncio.run(first_play(address, scene))
            fps = frames / seconds
            print(
                f"{scene['name']:14s} first play {fps:5.1f} frames a second of the server alone "
                f"(aim 25)",
                flush=True,
            )
        for scene in scenes(address):
            counts = presented(address, scene)
            print(
                f"{scene['name']:14s} second play in Chromium: {sum(counts) / len(counts):5.1f} of "
                f"25 a second, the worst second {min(counts)} (aim 23)",
                flush=True,
            )
    shutil.rmtree(folder, ignore_errors=True)


if __name__ == "__main__":
    main()
