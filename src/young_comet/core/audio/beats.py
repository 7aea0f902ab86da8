"""Tempo and beats of music. The tempo and a first row of beats come from librosa (McFee et al.,
SciPy 2015; beats by dynamic programming after Ellis, *Beat Tracking by Dynamic Programming*, JNMR
2007); then each beat is laid on the attack that is heard there, and all on a steady course.
"""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
import soxr

from .samples import SAMPLE_RATE

# So much of a sound is listened to (s).
LONGEST_S = 1200.0
_RATE, _HOP, _WINDOW, _BANDS = 24_000, 120, 1024, 64
_FRAMES = _RATE / _HOP
# Beats are counted no slower and no faster than this (a minute).
SLOWEST, FASTEST = 55.0, 215.0
# What happens between beats makes beats of its own where it is so strong, beside those.
_AS_STRONG = 0.36
_METER = 4
# Beats are laid on attacks that are so near, and on a line through so many of their neighbours.
_NEAR_S, _NEIGHBOURS = 0.045, 8
_AT_ONCE = 2000


@dataclass(frozen=True)
class Beats:
    """``times`` (s, rising), the number of the first ``strong`` beat, after which every fourth is
    strong, and the numbers of those with which a new part of the music begins."""

    tempo: float
    times: tuple[float, ...]
    strong: int = 0
    sections: tuple[int, ...] = ()


def beats_of(samples: np.ndarray) -> Beats | None:
    """The beats of a sound (n, 2), which may be mapped from a file; None where there are none."""
    mono = _mono(samples[: round(LONGEST_S * SAMPLE_RATE)])
    if len(mono) < 2 * _RATE or float(np.abs(mono).max()) < 1e-4:
        return None
    mel = _mel(mono)
    onsets, drums = _onsets(mel), _rises(mono)
    if not onsets.any():
        return None
    times = _tracked(onsets, drums)
    if len(times) < 4:
        return None
    times = _steady(_on_attacks(times, drums))
    times = times[(times > -0.01) & (times < len(mono) / _RATE)]
    if len(times) < 4:
        return None
    strong = _strong(times, mel)
    tempo = 60.0 / float(np.median(np.diff(times)))
    found = tuple(round(max(0.0, float(t)), 4) for t in times)
    return Beats(round(tempo, 2), found, strong, _sections(times, strong, mel))


def compiled() -> None:
    """Has what finds beats compiled, and kept by the machine: librosa's loops take up to a minute
    once. At set-up, as two processes must not do that at the same time."""
    clicks = np.zeros((6 * SAMPLE_RATE, 2), np.float32)
    for number in range(11):
        first = (number + 1) * SAMPLE_RATE // 2
        clicks[first : first + 240] = np.linspace(0.8, 0, 240, dtype=np.float32)[:, None]
    beats_of(clicks)


def _mono(samples: np.ndarray) -> np.ndarray:
    """Both sides together at 24 kHz."""
    stream = soxr.ResampleStream(SAMPLE_RATE, _RATE, 1, np.float32, "HQ")
    size, pieces = 1 << 20, []
    for first in range(0, len(samples), size):
        piece = np.asarray(samples[first : first + size], np.float32).mean(axis=1)
        pieces.append(stream.resample_chunk(piece, last=first + size >= len(samples)))
    return np.concatenate(pieces) if pieces else np.zeros(0, np.float32)


def _mel(mono: np.ndarray) -> np.ndarray:
    """Energies (64, n) of bands of hearing, 200 times a second; the window of a frame ends 34 ms
    after its moment, so a frame's rise is an attack about its own moment."""
    import librosa

    lead = np.zeros(_WINDOW - _HOP, np.float32)
    padded = np.concatenate([lead, mono])
    count = max(0, (len(padded) - _WINDOW) // _HOP + 1)
    out = np.zeros((_BANDS, count), np.float32)
    for first in range(0, count, _AT_ONCE):
        last = min(count, first + _AT_ONCE)
        piece = padded[first * _HOP : (last - 1) * _HOP + _WINDOW]
        out[:, first:last] = librosa.feature.melspectrogram(
            y=piece, sr=_RATE, n_fft=_WINDOW, hop_length=_HOP, n_mels=_BANDS, center=False
        )
    return out


def _onsets(mel: np.ndarray) -> np.ndarray:
    """How much begins at each frame."""
    import librosa

    db = librosa.power_to_db(mel, ref=np.max, top_db=80)
    found: np.ndarray = librosa.onset.onset_strength(S=db, sr=_RATE, hop_length=_HOP, lag=2)
    return found


def _rises(mono: np.ndarray) -> np.ndarray:
    """How much louder it is in the 8 ms after each millisecond than in the 8 ms before."""
    step, span = _RATE // 1000, 8
    count = len(mono) // step
    energy = np.square(mono[: count * step].astype(np.float64)).reshape(count, step).sum(axis=1)
    sums = np.concatenate([np.zeros(span + 1), np.cumsum(energy), np.full(span, energy.sum())])
    # The energy of ``span`` steps from each on, and of those before it.
    after = np.sqrt(np.maximum(0.0, sums[2 * span : 2 * span + count] - sums[span : span + count]))
    before = np.sqrt(np.maximum(0.0, sums[span : span + count] - sums[:count]))
    found: np.ndarray = np.maximum(0.0, after - before)
    return found


def _tracked(onsets: np.ndarray, drums: np.ndarray) -> np.ndarray:
    """Beats (s). One tempo may be counted at half or at double: from the slowest on, twice as many
    are counted where what happens between beats is about as strong as what happens on them, the
    likelier the nearer to a usual tempo that comes."""
    import librosa

    first = librosa.feature.tempo(onset_envelope=onsets, sr=_RATE, hop_length=_HOP)
    tempo = float(np.atleast_1d(first)[0])
    while tempo >= 2 * SLOWEST:
        tempo /= 2
    while tempo < SLOWEST:
        tempo *= 2
    while True:
        times = _on_attacks(_tracked_at(tempo, onsets), drums)
        if len(times) < 4:
            return times
        on, between = _strength(drums, times), _strength(drums, (times[1:] + times[:-1]) / 2)
        weak, strong = sorted((float(on.mean()), float(between.mean())))
        likelier = _usual(2 * tempo) / _usual(tempo)
        if 2 * tempo > FASTEST or weak * likelier < _AS_STRONG * strong:
            break
        tempo *= 2
    if between.mean() > on.mean():  # the stronger of both are the beats
        halves = (times[1:] + times[:-1]) / 2
        ends = (2 * times[0] - halves[0], 2 * times[-1] - halves[-1])
        times = np.array([ends[0], *halves, ends[1]])
    return times


def _usual(tempo: float) -> float:
    """How usual a tempo is: a bell over octaves about 120 beats a minute."""
    return float(np.exp(-0.5 * (np.log2(tempo / 120) / 0.7) ** 2))


def _tracked_at(tempo: float, onsets: np.ndarray) -> np.ndarray:
    import librosa

    _, frames = librosa.beat.beat_track(
        onset_envelope=onsets, sr=_RATE, hop_length=_HOP, bpm=tempo, trim=False, tightness=100
    )
    times: np.ndarray = np.asarray(frames, np.float64) / _FRAMES
    return times


def _strength(drums: np.ndarray, times: np.ndarray) -> np.ndarray:
    """The strongest rise within 30 ms of some times."""
    at = np.rint(times * 1000).astype(int)[:, None] + np.arange(-30, 31)[None]
    found: np.ndarray = drums[np.clip(at, 0, len(drums) - 1)].max(axis=1)
    return found


def _on_attacks(times: np.ndarray, drums: np.ndarray) -> np.ndarray:
    """Times laid on the strongest attack near them, once all have been moved by what they are
    mostly late."""
    near = round(_NEAR_S * 1000)
    steps = np.arange(-near, near + 1)

    def nearest(at: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        places = np.clip(np.rint(at * 1000).astype(int)[:, None] + steps[None], 0, len(drums) - 1)
        rises = drums[places]
        best = rises.argmax(axis=1)
        return places[np.arange(len(at)), best] / 1000, rises.max(axis=1)

    found, strong = nearest(times)
    clear = strong > 0.25 * np.median(strong)
    if not clear.any():
        return times
    late = float(np.median((times - found)[clear]))
    found, strong = nearest(times - late)
    return np.where(strong > 0.25 * np.median(strong), found, times - late)


def _steady(times: np.ndarray) -> np.ndarray:
    """Each time on the line through its neighbours that most of them lie near (Theil and Sen: the
    median of the slopes), so that single attacks that come early or late do not pull it."""
    out = np.empty_like(times)
    for index in range(len(times)):
        low, high = max(0, index - _NEIGHBOURS), min(len(times), index + _NEIGHBOURS + 1)
        numbers, some = np.arange(low, high), times[low:high]
        i, j = np.triu_indices(len(some), 1)
        slope = np.median((some[j] - some[i]) / (numbers[j] - numbers[i]))
        out[index] = np.median(some - slope * (numbers - index))
    return out


def _frames_of(times: np.ndarray, count: int) -> np.ndarray:
    found: np.ndarray = np.clip(np.rint(times * _FRAMES).astype(int), 0, max(0, count - 1))
    return found


def _strong(times: np.ndarray, mel: np.ndarray) -> int:
    """Which of the first four beats begins a bar: where most low tones begin and the sound changes
    most."""
    count = mel.shape[1]
    at = _frames_of(times, count)
    low = np.sqrt(mel[:6].sum(axis=0))
    kicks = np.array([low[a : a + 24].max() - low[max(0, a - 12) : a + 1].min() for a in at])
    spectra = np.sqrt(mel)
    length = max(2, int(np.median(np.diff(at))))
    changes = np.zeros(len(at))
    for n, a in enumerate(at):
        before, after = spectra[:, max(0, a - length) : a], spectra[:, a : a + length]
        if before.shape[1] and after.shape[1]:
            one, other = before.mean(axis=1), after.mean(axis=1)
            size = float(np.linalg.norm(one) * np.linalg.norm(other))
            changes[n] = 1 - float(one @ other) / size if size > 0 else 0.0
    scores = []
    for phase in range(_METER):
        kick = kicks[phase::_METER].mean() / max(1e-9, kicks.mean())
        change = changes[phase::_METER].mean() / max(1e-9, changes.mean())
        scores.append(kick + change)
    return int(np.argmax(scores))


def _sections(times: np.ndarray, strong: int, mel: np.ndarray) -> tuple[int, ...]:
    """The strong beats at which four bars sound unlike the four before (a checkerboard along the
    diagonal, Foote, *Automatic Audio Segmentation*, ICME 2000), and the first."""
    bars = np.arange(strong, len(times), _METER)
    if len(bars) < 2:
        return (strong,) if strong < len(times) else ()
    at = _frames_of(times, mel.shape[1])
    edges = [*at[bars], mel.shape[1]]
    db = 10 * np.log10(np.maximum(mel, 1e-7))
    features = np.array([db[:, a : max(b, a + 1)].mean(axis=1) for a, b in pairwise(edges)])
    unlike = np.zeros(len(bars))
    for n in range(2, len(bars) - 3):
        before, after = features[max(0, n - 4) : n], features[n : n + 4]
        unlike[n] = float(np.abs(before.mean(axis=0) - after.mean(axis=0)).mean())
    found = [0]
    for n in np.argsort(-unlike):
        if unlike[n] < max(3.0, unlike.mean() + unlike.std()):
            break
        if all(abs(int(n) - other) >= 3 for other in found):
            found.append(int(n))
    return tuple(int(bars[n]) for n in sorted(found))
