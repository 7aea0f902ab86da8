"""The compiled loops: all of them are ready before a frame needs them, and how they round."""

import subprocess
import sys

import numpy as np

from young_comet.core.pixels.fixed import over_full
from young_comet.core.pixels.kernel import kernel

READY = """
from young_comet.core.kernels import load_kernels
load_kernels()
from young_comet.core.pixels.kernel import KERNELS
cold = [f"{each.py_func.__module__}.{each.__name__}" for each in KERNELS if not each.signatures]
assert len(KERNELS) > 40, len(KERNELS)
assert not cold, cold
"""


def test_every_kernel_has_a_sample():
    done = subprocess.run([sys.executable, "-c", READY], capture_output=True, text=True)
    assert done.returncode == 0, done.stderr[-500:]


@kernel()
def _all(products, out):
    for i in range(len(products)):
        out[i] = over_full(products[i])


def test_products_are_rounded_to_the_nearest():
    products = np.arange(255 * 255 + 1, dtype=np.uint32)
    out = np.empty_like(products)
    _all(products, out)
    assert (out == np.rint(products / 255)).all()
