"""Sound as arrays: float32 (n, 2), full scale 1, 48,000 samples a second. Nothing here knows of
documents or files."""

from .bands import Bands, Ears, bands_of, pack_bands, unpack_bands
from .gains import FADES, amplitude, balance, faded
from .limiting import limited, true_peaks
from .peaks import Peaks, pack_peaks, peaks_between, peaks_in, peaks_of, unpack_peaks
from .samples import CHANNELS, SAMPLE_RATE, sample_at
from .varied import interpolated

__all__ = [
    "CHANNELS",
    "FADES",
    "SAMPLE_RATE",
    "Bands",
    "Ears",
    "Peaks",
    "amplitude",
    "balance",
    "bands_of",
    "faded",
    "interpolated",
    "limited",
    "pack_bands",
    "pack_peaks",
    "peaks_between",
    "peaks_in",
    "peaks_of",
    "sample_at",
    "true_peaks",
    "unpack_bands",
    "unpack_peaks",
]
