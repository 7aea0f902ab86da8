"""The kit of sounds: made by formulas from seeds, in any length, pitch and brightness."""

from ...registry import Registry
from .base import KitSound, Wish
from .beds import BEDS
from .strikes import STRIKES

FAMILIES = (
    ("whoosh", "Whooshes"), ("hit", "Hits"), ("riser", "Risers"), ("chime", "Chimes"),
    ("tick", "Ticks"), ("drone", "Drones"), ("bed", "Beds of music"),
)  # fmt: skip

KIT: Registry[KitSound] = Registry("sound of the kit", (*STRIKES, *BEDS))

# Limits of what may be wished.
SHORTEST_S, LONGEST_S = 0.02, 60.0

__all__ = ["FAMILIES", "KIT", "LONGEST_S", "SHORTEST_S", "KitSound", "Wish"]
