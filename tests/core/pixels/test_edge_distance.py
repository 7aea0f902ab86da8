"""Distances from edges and what is made of them, against the formulas of discs, lines and boxes
whose coverage is counted in parts of a pixel."""

from __future__ import annotations

import math

import numpy as np
import pytest

from young_comet.core.effects.alphas import rings, spread
from young_comet.core.pixels.distance import FAR, edge_distance

SIZE, PARTS = 100, 16
Y, X = np.mgrid[0:SIZE, 0:SIZE] + 0.5


def covered(inside):
    """An alpha of what ``inside(x, y)`` says, counted at PARTS x PARTS places of each pixel."""
    fine = (np.arange(SIZE * PARTS) + 0.5) / PARTS
    full = inside(fine[None, :], fine[:, None]).astype(np.float32)
    full = np.broadcast_to(full, (SIZE * PARTS, SIZE * PARTS))
    return np.rint(full.reshape(SIZE, PARTS, SIZE, PARTS).mean(axis=(1, 3)) * 255).astype(np.uint8)


def disc(x, y, r):
    return covered(lambda px, py: np.hypot(px - x, py - y) <= r), np.hypot(X - x, Y - y) - r


@pytest.mark.parametrize("r", [3, 8, 20, 35])
@pytest.mark.parametrize("middle", [(50, 50), (50.3, 49.6), (50.5, 50.1)])
def test_a_disc(r, middle):
    alpha, exact = disc(*middle, r)
    found = edge_distance(alpha, 20)
    near = np.abs(exact) < min(18, 0.9 * r)
    assert np.abs(found - exact)[near].max() < 0.08
    assert np.sqrt(np.mean((found - exact)[near] ** 2)) < 0.03


@pytest.mark.parametrize("deg", [0, 10, 26.6, 45, 63, 90, 133])
@pytest.mark.parametrize("off", [0.0, 0.13, 0.5, 0.87])
def test_a_straight_edge(deg, off):
    c, s = math.cos(math.radians(deg)), math.sin(math.radians(deg))
    alpha = covered(lambda x, y: (x - 50) * c + (y - 50) * s < off)
    exact = (X - 50) * c + (Y - 50) * s - off
    found = edge_distance(alpha, 20)
    near = (np.abs(exact) < 15) & (np.abs(X - 50) < 25) & (np.abs(Y - 50) < 25)
    assert np.abs(found - exact)[near].max() <= 0.055


def test_a_box_of_whole_pixels_is_exact():
    alpha = np.zeros((SIZE, SIZE), np.uint8)
    alpha[30:70, 30:70] = 255
    dx, dy = np.abs(X - 50) - 20, np.abs(Y - 50) - 20
    exact = np.hypot(np.maximum(dx, 0), np.maximum(dy, 0)) + np.minimum(np.maximum(dx, dy), 0)
    near = np.abs(exact) < 19
    assert np.abs(edge_distance(alpha, 30) - exact)[near].max() < 1e-4


def test_thin_things_soft_things_and_nothing():
    line = np.zeros((20, 20), np.uint8)
    line[:, 10] = 128  # half a pixel wide, or half as opaque: it is taken as there
    assert edge_distance(line, 5)[10, 13] == pytest.approx(2.5, abs=0.05)
    dot = np.zeros((9, 9), np.uint8)
    dot[4, 4] = 255
    assert edge_distance(dot, 9)[4, 4] == -0.5 and edge_distance(dot, 9)[4, 7] == 2.5
    soft = np.tile(np.linspace(0, 255, 41), (20, 1)).astype(np.uint8)  # the half is passed at 20
    assert edge_distance(soft, 8)[10, 25] == pytest.approx(-5, abs=0.1)
    glass = np.full((20, 20), 0, np.uint8)
    glass[5:15, 5:15] = 90
    assert edge_distance(glass, 9)[10, 2] == 2.5
    assert (edge_distance(np.zeros((5, 6), np.uint8), 3) == FAR).all()
    assert edge_distance(np.zeros((0, 6), np.uint8), 3).shape == (0, 6)
    full = edge_distance(np.full((5, 7), 255, np.uint8), 9)
    assert full[2].tolist() == [-0.5, -1.5, -2.5, -2.5, -2.5, -1.5, -0.5]


@pytest.mark.parametrize("width", [1, 2, 5.5])
def test_an_outline_is_as_heavy_as_its_width_and_does_not_jump(width):
    """Its area about a disc that slides by tenths of a pixel, which are rings' areas."""
    weights = []
    for step in range(11):
        alpha, _ = disc(50 + step / 10, 50 + step / 27, 20)
        ring = rings(alpha, width, width, 0, 1)
        weights.append(ring.sum() / 255)
        middle = (ring * X).sum() / ring.sum()
        assert middle == pytest.approx(50 + step / 10, abs=0.1)
    exact = math.pi * ((20 + width) ** 2 - 20**2)
    assert np.abs(np.array(weights) / exact - 1).max() < 0.03


@pytest.mark.parametrize("by", [-4.0, -0.3, 0.3, 1, 7.7])
def test_a_form_grows_by_just_so_much(by):
    alpha, _ = disc(50.2, 49.9, 20)
    grown = spread(alpha, by)
    assert math.sqrt(grown.sum() / 255 / math.pi) == pytest.approx(20 + by, abs=0.03)


def test_several_rings_lie_apart():
    alpha, exact = disc(50, 50, 15)
    ring = rings(alpha, 14, 4, 6, 2)
    # From 29 to 25, and from 19 to 15.
    for r, there in ((17, True), (20, False), (22, False), (24, False), (27, True), (30, False)):
        place = np.abs(exact + 15 - r) < 0.4
        assert ring[place].mean() > 250 if there else ring[place].mean() < 20, r
    assert rings(alpha, 4, 4, 0, 1, filled=True)[50, 50] == 255
    assert rings(alpha, 4, 4, 0, 1)[50, 50] == 0
