"""The page's small geometry: held against numpy."""

import numpy as np
import pytest
from tests.page.page import call, call_all

MODULE = "editor/points.js"
MATRICES = [[1, 0, 0, 1, 0, 0], [2, 0.5, -1, 3, 40, -7], [0, 1, -1, 0, 0, 0], [-1, 0, 0, 1, 5, 5]]
POINTS = [[0, 0], [12.5, -3], [-1000, 1e5]]


def matrix(m):
    a, b, c, d, e, f = m
    return np.array([[a, c, e], [b, d, f], [0, 0, 1]], float)


@pytest.mark.parametrize("m", MATRICES)
def test_points_are_mapped_and_brought_back(m):
    calls = [(MODULE, name, [m, p]) for p in POINTS for name in ("map", "turn", "invert")]
    results = [each["value"] for each in call_all(*calls)]
    for number, p in enumerate(POINTS):
        mapped, turned, back = results[3 * number : 3 * number + 3]
        assert mapped == pytest.approx((matrix(m) @ [*p, 1])[:2])
        assert turned == pytest.approx((matrix(m) @ [*p, 0])[:2])
        assert back == pytest.approx((np.linalg.inv(matrix(m)) @ [*p, 1])[:2])


def test_what_is_folded_flat_has_no_way_back():
    assert call(MODULE, "invert", [1, 2, 2, 4, 0, 0], [1, 1]) is None


SCENE = {"width": 1920, "height": 1080}


@pytest.mark.parametrize(
    ("box", "shift"),
    [
        ([3, 400, 103, 500], [-3, 0]),  # its left edge to the frame's
        ([907, 300, 1007, 310], [3, 0]),  # its middle to the frame's
        ([500, 1071, 600, 1078], [0, 2]),  # its lower edge to the frame's
        ([300, 300, 400, 400], [0, 0]),
    ],
)
def test_boxes_snap_to_the_nearest_line(box, shift):
    extra = {"thirds": False, "safe": False}
    found = call("editor/snapping.js", "snapBox", {"scene": SCENE}, box, [], 1, extra)
    assert found["shift"] == shift and len(found["marks"]) == sum(1 for each in shift if each)


def test_boxes_snap_to_other_layers_and_less_far_when_enlarged():
    other, box = [200, 200, 300, 300], [304, 500, 350, 560]
    extra = {"thirds": True, "safe": True}
    near = call("editor/snapping.js", "snapBox", {"scene": SCENE}, box, [other], 1, extra)
    far = call("editor/snapping.js", "snapBox", {"scene": SCENE}, box, [other], 3, extra)
    assert near["shift"][0] == -4 and far["shift"][0] == 0


def test_the_box_around_points():
    points = [[3, 9], [-2, 4], [8, -1]]
    assert call("editor/snapping.js", "boxAround", points) == [-2, -1, 8, 9]


def test_a_way_is_straightened_along_its_longer_axis():
    ways = [([0, 0], [30, -4]), ([5, 5], [6, 90]), ([0, 0], [0, 0])]
    found = [call(MODULE, "along", *way, True) for way in ways]
    assert found == [[30, 0], [0, 85], [0, 0]]
    assert call(MODULE, "along", [1, 2], [31, -2], False) == [30, -4]
