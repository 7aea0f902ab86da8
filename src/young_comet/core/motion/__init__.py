"""Courses of motion: keys that fit them, taken apart, joined, put in and taken out."""

from .carried import PlaceValues, taken_over
from .dimensions import join_tracks, split_track
from .fitting import FittedKey, fit_motion, fit_values
from .flight import begun, fit_flight
from .paths import insert_key, keyframes, path_keys, rounded_handles, segment_path, take_key

__all__ = [
    "FittedKey",
    "PlaceValues",
    "begun",
    "fit_flight",
    "fit_motion",
    "fit_values",
    "insert_key",
    "join_tracks",
    "keyframes",
    "path_keys",
    "rounded_handles",
    "segment_path",
    "split_track",
    "take_key",
    "taken_over",
]
