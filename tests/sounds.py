"""Sounds for tests, made by formulas."""

from __future__ import annotations

import io
from typing import Any

import av
import numpy as np

from young_comet.core.audio import SAMPLE_RATE
from young_comet.core.media.stretching import stretched
from young_comet.core.model import Asset


def tone(hertz: float, seconds: float, rate: int = SAMPLE_RATE, level: float = 0.5) -> np.ndarray:
    """A sine, float32 (n, 2): right a quarter of a turn later than left."""
    at = np.arange(round(seconds * rate)) / rate
    turn = 2 * np.pi * hertz * at
    return np.stack([np.sin(turn), np.cos(turn)], axis=1).astype(np.float32) * np.float32(level)


def noise(seconds: float, seed: int = 1, level: float = 0.3) -> np.ndarray:
    """Noise, float32 (n, 2)."""
    count = round(seconds * SAMPLE_RATE)
    found = np.random.default_rng(seed).uniform(-level, level, (count, 2))
    return found.astype(np.float32)


def asset(id: str, samples: np.ndarray, kind: str = "sound", **more: Any) -> Asset:
    """The asset of a sound in memory; its hash tells its id."""
    values: dict[str, Any] = {
        "name": f"{id}.wav", "kind": kind, "media_type": "audio/wav",
        "hash": id.encode().hex().ljust(64, "0"), "size_bytes": 1, "channels": 2,
        "sample_rate": SAMPLE_RATE, "duration_s": len(samples) / SAMPLE_RATE,
    }  # fmt: skip
    return Asset(id=id, **{**values, **more})


class Recordings:
    """Sounds in memory by their hashes."""

    def __init__(self, **sounds: np.ndarray) -> None:
        self.sounds = {asset(id, samples).hash: samples for id, samples in sounds.items()}

    def sound(self, hash: str) -> np.ndarray:
        return self.sounds[hash]

    def stretched(self, hash: str, speed: float) -> np.ndarray:
        return np.concatenate(list(stretched(self.sounds[hash], speed)))


def encoded(
    samples: np.ndarray, rate: int, *, format: str, codec: str, layout: str = "stereo", as_: str = "",
    **options: str,
) -> bytes:  # fmt: skip
    """A sound file of float samples (n, channels)."""
    target = io.BytesIO()
    with av.open(target, "w", format=format) as file:
        stream: Any = file.add_stream(codec, rate=rate, layout=layout, options=options)
        size = stream.codec_context.frame_size or 1024
        wanted = as_ or stream.codec_context.format.name
        made = av.AudioResampler(format=wanted, layout=layout, rate=rate)
        for begin in range(0, len(samples), size):
            block = np.ascontiguousarray(samples[begin : begin + size].T.astype(np.float32))
            frame = av.AudioFrame.from_ndarray(block, format="fltp", layout=layout)
            frame.sample_rate, frame.pts = rate, begin
            for each in made.resample(frame):
                file.mux(stream.encode(each))
        file.mux(stream.encode())
    return target.getvalue()
