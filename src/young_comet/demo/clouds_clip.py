"""Footage for the demo: clouds passing, drawn frame by frame and encoded as WebM with alpha."""

from __future__ import annotations

import io
import math
import random
from fractions import Fraction

import av
import cv2
import numpy as np

WIDTH, HEIGHT, RATE, SECONDS = 640, 160, 25, 3
WARM, COOL = (255, 205, 170), (196, 110, 140)


def passing_clouds() -> bytes:
    """A loop: what leaves on the right comes in on the left, and the last frame leads on to
    the first."""
    strip = _cloud_strip(WIDTH * 2)
    target = io.BytesIO()
    with av.open(target, "w", format="webm") as file:
        stream = file.add_stream("libvpx-vp9", rate=Fraction(RATE))
        stream.width, stream.height, stream.pix_fmt = WIDTH, HEIGHT, "yuva420p"
        stream.metadata["alpha_mode"] = "1"
        speed = {"deadline": "realtime", "cpu-used": "8"}
        stream.options = {"crf": "30", "b:v": "0", "g": "25", **speed}
        stream.codec_context.thread_count = 1
        count = RATE * SECONDS
        for number in range(count):
            shift = round(number / count * strip.shape[1])
            pixels = np.ascontiguousarray(np.roll(strip, shift, axis=1)[:, :WIDTH])
            frame = av.VideoFrame.from_ndarray(pixels, format="rgba").reformat(format="yuva420p")
            frame.pts, frame.time_base = number, Fraction(1, RATE)
            for packet in stream.encode(frame):
                file.mux(packet)
        for packet in stream.encode():
            file.mux(packet)
    return target.getvalue()


def _cloud_strip(length: int) -> np.ndarray:
    """Straight-alpha RGBA of soft clouds that meet at both ends."""
    rng = random.Random(23)
    cover = np.zeros((HEIGHT, length * 3), np.float32)
    for _ in range(5):
        middle, size = rng.uniform(0, length), rng.uniform(0.55, 1.0)
        base = HEIGHT * rng.uniform(0.45, 0.8)
        for _puff in range(9):
            away = rng.gauss(0, 80 * size)
            radius = 31 * size * math.exp(-((away / (127 * size)) ** 2)) * rng.uniform(0.6, 1.1)
            for turn in range(3):
                centre = (round(middle + away + turn * length), round(base - radius * 0.5))
                size_px, level = max(3, round(radius)), rng.uniform(0.5, 0.8)
                cv2.circle(cover, centre, size_px, level, -1, cv2.LINE_AA)
    soft: np.ndarray = cv2.GaussianBlur(cover, (0, 0), 6)[:, length : 2 * length]
    light = np.linspace(1, 0, HEIGHT, dtype=np.float32)[:, None, None]
    colour = np.array(WARM, np.float32) * light + np.array(COOL, np.float32) * (1 - light)
    pixels = np.empty((HEIGHT, length, 4), np.uint8)
    pixels[:, :, :3] = np.broadcast_to(colour, (HEIGHT, length, 3)).astype(np.uint8)
    pixels[:, :, 3] = np.clip(soft * 150, 0, 255).astype(np.uint8)
    return pixels
