"""Two minutes of playing a scene with sound in headless Chromium: how far the frame that is shown
is from the one that belongs to what is heard, told by the audio device's own clock."""

from __future__ import annotations

import argparse
import shutil
import tempfile

from dragging import FLAGS, serving
from playwright.sync_api import sync_playwright

from young_comet.demo import DEMO_ID

SCENE = "kinetic-title"
# Each picture as it is shown: the frame, and the second of the mix that the device plays just then
# (Web Audio's getOutputTimestamp), with whole rounds of the loop taken off.
MEASURE = """async (seconds) => {
  const { player, editor } = youngComet;
  const { sounding } = player;
  const [start, end] = editor.range;
  const lasts = editor.timeOf(end - start);
  const apart = [];
  let shown = 0;
  const show = player.show;
  player.show = (bitmap) => {
    show(bitmap);
    const run = sounding.run;
    if (!run) return;
    const { contextTime, performanceTime } = sounding.context.getOutputTimestamp();
    const now = contextTime + (performance.now() - performanceTime) / 1000;
    if (now < run.t0) return; // nothing is heard yet: the first picture waits
    const heard = ((now - run.t0) % lasts + lasts) % lasts;
    // From where in its frame the sound is: 0..1 is in step.
    let frames = (heard - editor.timeOf(player.last - start)) * (editor.rate.num / editor.rate.den);
    const whole = end - start;
    if (frames > whole / 2) frames -= whole;
    if (frames < -whole / 2) frames += whole;
    apart.push(frames);
    shown += 1;
  };
  editor.goTo(start);
  await player.play();
  await new Promise((done) => setTimeout(done, seconds * 1000));
  const rounds = sounding.run?.round ?? -1;
  player.pause();
  player.show = show;
  return { apart, shown, rounds };
}"""


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--seconds", type=float, default=20.0)
    seconds = parser.parse_args().seconds
    with tempfile.TemporaryDirectory() as data, serving(data) as address, sync_playwright() as web:
        browser = web.chromium.launch(
            executable_path=shutil.which("chromium"),
            args=[*FLAGS, "--autoplay-policy=no-user-gesture-required"],
        )
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/projects/{DEMO_ID}/scenes/{SCENE}")
        page.wait_for_function(
            """() => { const { player, editor } = window.youngComet ?? {};
                if (!player?.signatures.length || !player.sounding.heard) return false;
                for (let i = editor.range[0]; i < editor.range[1]; i += 1)
                  if (!player.ready(i)) return false;
                return true; }""",
            timeout=240_000,
        )
        found = page.evaluate(MEASURE, seconds)
        browser.close()
    # A frame is in step from its beginning (0) to its end (1).
    off = sorted(max(-each, each - 1, 0.0) for each in found["apart"])
    print(f"  {SCENE}, {seconds:g} s, {found['rounds']} rounds, {found['shown']} pictures shown")
    print(
        f"  beyond their frame's own time: half {off[len(off) // 2]:.2f} frames, 95 % "
        f"{off[int(len(off) * 0.95)]:.2f}, at most {off[-1]:.2f}"
    )


if __name__ == "__main__":
    main()
