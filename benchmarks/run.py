"""Runs all benchmarks one after another."""

import subprocess
import sys
from pathlib import Path

for script in (
    "frames.py",
    "formats.py",
    "looks.py",
    "type.py",
    "playing.py",
    "in_step.py",
    "dragging.py",
    "cold.py",
    "deeds.py",
    "many_keys.py",
    "linked.py",
    "arrangements.py",
    "large.py",
):
    print(f"\n== {script}", flush=True)
    subprocess.run([sys.executable, Path(__file__).parent / script], check=True)
