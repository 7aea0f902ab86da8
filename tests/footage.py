"""Small clips for tests: each frame shows its own number as a row of black and white squares."""

from __future__ import annotations

import io
from fractions import Fraction
from typing import Any

import av
import numpy as np
from PIL import Image

SQUARE = 16
BITS = 8


def numbered(number: int, alpha: int = 255) -> np.ndarray:
    """RGBA pixels (64, 128, 4): the number in binary in the upper half, alpha in the lower."""
    pixels = np.zeros((64, SQUARE * BITS, 4), np.uint8)
    pixels[:, :, 3] = 255
    pixels[32:, :, :3] = (255, 122, 69)
    for bit in range(BITS):
        if number >> bit & 1:
            pixels[:32, bit * SQUARE : (bit + 1) * SQUARE, :3] = 255
    pixels[32:, :, 3] = alpha
    return pixels


def number_of(bgra: np.ndarray) -> int:
    """Reads the number back from any picture of a numbered frame."""
    height, width = bgra.shape[:2]
    row = bgra[height // 4, :, :3].mean(axis=1)
    centres = [int((bit + 0.5) * width / BITS) for bit in range(BITS)]
    return sum(1 << bit for bit, x in enumerate(centres) if row[x] > 128)


def video(
    count: int = 30,
    rate: Fraction = Fraction(25),
    codec: str = "libx264",
    format: str = "mp4",
    pix_fmt: str = "yuv420p",
    alpha: int = 255,
    **options: str,
) -> bytes:
    target = io.BytesIO()
    with av.open(target, "w", format=format) as file:
        stream = file.add_stream(codec, rate=rate)
        stream.width, stream.height, stream.pix_fmt = SQUARE * BITS, 64, pix_fmt
        stream.options = {"g": "12", **options}
        if format == "webm" and pix_fmt.startswith("yuva"):
            stream.metadata["alpha_mode"] = "1"
        for number in range(count):
            frame = av.VideoFrame.from_ndarray(numbered(number, alpha), format="rgba")
            frame = frame.reformat(format=pix_fmt)
            frame.pts, frame.time_base = number, 1 / rate
            for packet in stream.encode(frame):
                file.mux(packet)
        for packet in stream.encode():
            file.mux(packet)
    return target.getvalue()


def animation(count: int = 6, format: str = "GIF", duration: Any = 40, alpha: int = 255) -> bytes:
    frames = [Image.fromarray(numbered(number, alpha)) for number in range(count)]
    target = io.BytesIO()
    more: dict[str, Any] = {"lossless": True} if format == "WEBP" else {}
    if format == "GIF":
        frames = [frame.convert("RGB") for frame in frames]
    frames[0].save(
        target, format, save_all=True, append_images=frames[1:], duration=duration, loop=0, **more
    )
    return target.getvalue()
