"""Paths as points, morphing, SVG read as shapes, colour tables, noise, spreads."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests.build import draw, layer, project

from young_comet.core.geometry.affine import Affine
from young_comet.core.geometry.contours import (
    contours_of,
    freehand_path,
    parse_contours,
    write_contours,
)
from young_comet.core.geometry.morph import best_start, morph
from young_comet.core.geometry.outline import centred, ellipse, from_svg_path, rectangle
from young_comet.core.geometry.projective import Projective
from young_comet.core.geometry.spatial import Space
from young_comet.core.media import draw_svg, layer_parts, read_cube, shapes_of
from young_comet.core.model import Part, Property
from young_comet.core.pixels import noise, tone
from young_comet.core.timing import parse_easing
from young_comet.core.timing.spread import ORDERS, ranks, settled
from young_comet.errors import DocumentError, MediaError

BOAT = "M0 0 C30 -40 60 -40 90 0 L90 40 L0 40 Z M20 10 L40 10 L40 30 L20 30 Z"
SQUARE = "M0 0 L100 0 L100 100 L0 100 Z"


def area(data):
    """The signed area within the curves themselves, from 64 points of each segment."""
    total = 0.0
    t = np.linspace(0, 1, 64, endpoint=False)[:, None]
    for contour in parse_contours(data):
        p = contour.cubics().transpose(1, 0, 2)[:, :, None, :]
        curve = (
            (1 - t) ** 3 * p[0]
            + 3 * t * (1 - t) ** 2 * p[1]
            + 3 * t**2 * (1 - t) * p[2]
            + t**3 * p[3]
        )
        x, y = curve.reshape(-1, 2).T
        total += float(np.sum(x * np.roll(y, -1) - np.roll(x, -1) * y) / 2)
    return total


# Contours


def test_paths_read_back_from_what_they_write():
    again = write_contours(parse_contours(BOAT))
    assert (
        parse_contours(again) == parse_contours(BOAT)
        and write_contours(parse_contours(again)) == again
    )
    first, hole = parse_contours(BOAT)
    assert (len(first.points), len(hole.points), first.closed) == (4, 4, True)
    assert first.points[0].out == (30, -40) and first.points[2].out == (0, 0)


def test_a_split_leaves_the_curve_where_it_was():
    contour = parse_contours(BOAT)[0]
    cut = contour.split(0, 0.3)
    assert len(cut.points) == 5
    assert area(write_contours([cut])) == pytest.approx(area(write_contours([contour])), abs=1)
    t = np.linspace(0, 1, 7)[:, None]
    p = contour.segment(0)
    whole = (
        (1 - t) ** 3 * p[0] + 3 * t * (1 - t) ** 2 * p[1] + 3 * t**2 * (1 - t) * p[2] + t**3 * p[3]
    )
    q = cut.segment(0)
    part = (
        (1 - t) ** 3 * q[0] + 3 * t * (1 - t) ** 2 * q[1] + 3 * t**2 * (1 - t) * q[2] + t**3 * q[3]
    )
    for point in part:
        assert np.hypot(*(whole - point).T).min() < 9
    assert cut.points[1].smooth


def test_turning_round_and_another_first_point_keep_the_form():
    contour = parse_contours(SQUARE)[0]
    assert contour.reversed().area == pytest.approx(-contour.area)
    assert contour.reversed().points[0].at == contour.points[0].at
    assert contour.starting_at(2).points[0].at == (100, 100)
    assert contour.reversed().reversed() == contour
    turned = contour.mapped(Affine.rotation(90))
    assert turned.points[1].at == pytest.approx((0, 100))


def test_freehand_lines_become_few_points():
    turns = np.linspace(0, 2 * np.pi, 200, endpoint=False)
    drawn = np.stack([100 * np.cos(turns), 60 * np.sin(turns)], axis=1)
    path = freehand_path(drawn, 1.5, closed=True)
    (contour,) = parse_contours(path)
    assert contour.closed and len(contour.points) <= 24
    outline = from_svg_path(path)
    assert outline.bounds == pytest.approx((-100, -60, 100, 60), abs=3)
    with pytest.raises(DocumentError, match="no length"):
        freehand_path(np.zeros((5, 2)), 1.0, closed=False)


def test_paths_that_are_too_long_or_broken_are_refused():
    with pytest.raises(DocumentError, match="5000"):
        parse_contours("M0 0" + "".join(f" L{i} {i % 7}" for i in range(5200)))
    with pytest.raises(DocumentError):
        parse_contours("M0 0 C1 2")


def test_areas_join_as_sets():
    a = from_svg_path(SQUARE)
    b = a.mapped(Affine.shift(50, 0))
    sizes = {
        how: sum(abs(c.area) for c in contours_of(a.joined(b, how)))
        for how in ("union", "minus", "intersect")
    }
    assert sizes == pytest.approx({"union": 15000, "minus": 5000, "intersect": 5000})
    ring = a.joined(rectangle(50, 50).mapped(Affine.shift(50, 50)), "minus")
    assert abs(sum(c.area for c in contours_of(ring))) == pytest.approx(7500, abs=1), (
        "holes run the other way"
    )
    grown = a.grown(10)
    assert grown.bounds == pytest.approx((-10, -10, 110, 110), abs=0.1)
    assert a.grown(-20).bounds == pytest.approx((20, 20, 80, 80), abs=0.1)


# Morphing


@given(st.floats(0, 1))
def test_a_morph_of_a_path_into_itself_is_itself(amount):
    assert area(morph(SQUARE, SQUARE, amount)) == pytest.approx(10000)


def test_ends_of_a_morph_are_the_paths_themselves():
    assert morph(SQUARE, BOAT, 0) == SQUARE and morph(SQUARE, BOAT, 1) == BOAT
    near = from_svg_path(morph(SQUARE, BOAT, 0.999)).bounds
    assert near == pytest.approx(from_svg_path(BOAT).bounds, abs=0.6)


def test_a_turned_square_turns_and_does_not_shrink():
    turned = write_contours(
        [c.mapped(Affine.rotation(80)) for c in parse_contours(centred(SQUARE))]
    )
    for amount in (0.25, 0.5, 0.75):
        assert area(morph(centred(SQUARE), turned, amount)) == pytest.approx(10000, rel=0.01)


def test_points_are_matched_where_their_numbers_differ():
    """A square into a circle: the area goes steadily from one to the other."""
    disc = write_contours(contours_of(ellipse(120, 120)))
    disc = best_start(centred(SQUARE), disc)
    areas = [area(morph(centred(SQUARE), disc, k / 8)) for k in range(9)]
    assert areas == sorted(areas) and areas[-1] == pytest.approx(math.pi * 3600, rel=0.01)


def test_best_start_undoes_another_first_point_and_direction():
    (contour,) = parse_contours(SQUARE)
    mixed = write_contours([contour.reversed().starting_at(2)])
    assert parse_contours(best_start(SQUARE, mixed))[0].points[0].at == (0, 0)
    assert morph(SQUARE, best_start(SQUARE, mixed), 0.5) and area(
        morph(SQUARE, best_start(SQUARE, mixed), 0.5)
    ) == pytest.approx(10000)


def test_a_contour_without_partner_grows_from_its_middle():
    half = parse_contours(morph(SQUARE, SQUARE + " M200 0 L240 0 L240 40 L200 40 Z", 0.5))
    assert len(half) == 2 and half[1].area == pytest.approx(400)


# Perspective


def test_a_plane_seen_straight_on_is_flat():
    lens = Space.tilted((50.0, 40.0), 0, 0, Affine()).seen((100.0, 100.0), 500.0)
    assert lens((10.0, 5.0)) == pytest.approx((60.0, 45.0))
    back = lens.inverse()
    assert back(lens((7.0, -3.0))) == pytest.approx((7.0, -3.0))
    with pytest.raises(ValueError, match="inverse"):
        Space.tilted((100.0, 100.0), 0, 90, Affine()).seen((100.0, 100.0), 500.0).inverse()
    assert Projective.of(Affine.scaling(2, 3)).scales((5.0, 5.0)) == pytest.approx((3, 2))


# SVG as shapes

SVG = """<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" viewBox="0 0 200 120" width="400" height="240">
<style>.sail { fill: #ff7a45 } #mast { stroke: #f8f1e4; stroke-width: 3; fill: none } polygon { stroke-linejoin: round }</style>
<defs><linearGradient id="dusk"><stop offset="0" stop-color="#17224d"/><stop offset="100%" stop-color="#ffb44a"/></linearGradient>
<linearGradient id="tilted" xlink:href="#dusk" gradientUnits="userSpaceOnUse" x1="0" y1="0" x2="0" y2="120"/>
<clipPath id="half"><rect width="100" height="120"/></clipPath>
<symbol id="kite" viewBox="0 0 10 10"><path d="M5 0 L10 5 L5 10 L0 5 Z" class="sail"/></symbol></defs>
<rect width="200" height="120" fill="url(#dusk)"/>
<g transform="translate(20 10) scale(2)" opacity=".5"><polygon points="0,0 20,0 10,20" class="sail"/>
  <path id="mast" d="M10 0 V30" stroke-dasharray="4 2"/></g>
<path d="M100 20 H160 V80 H100 Z M115 35 H145 V65 H115 Z" fill-rule="evenodd" fill="url(#tilted)"/>
<circle cx="100" cy="60" r="30" clip-path="url(#half)" style="fill:#2f9fb3"/>
<use href="#kite" x="150" y="90" width="20" height="20"/>
</svg>"""


def test_an_svg_comes_in_as_parts_that_look_the_same():
    """Drawn by our own shapes against the same file drawn as a picture, by another library."""
    drawing = shapes_of(SVG.encode())
    assert len(drawing.parts) == 6
    assert drawing.notes == ("a group's opacity now counts for each of its paths by itself",)
    parts, properties = layer_parts(drawing)
    wide = layer("boat", "shape", shape__kind="drawing", position=[200.0, 120.0])
    wide = wide.model_copy(update={
        "parts": tuple(Part(**part) for part in parts),
        "properties": {**wide.properties, **{k: Property(**v) for k, v in properties.items()}},
    })  # fmt: skip
    mine = draw(project(wide, width=400, height=240, ground=None))
    picture = draw_svg(SVG.encode(), 1.0)
    far = np.abs(mine.astype(int) - picture)
    far[20:104, 60:100] = 0  # where the half transparent mast crosses its sail
    assert far.mean() < 1.5 and np.quantile(far, 0.97) <= 12


def test_styles_come_from_classes_ids_and_elements():
    by_name = {part.name: part for part in shapes_of(SVG.encode()).parts}
    assert by_name["polygon"].fill == "#ff7a45" and by_name["polygon"].opacity == 0.5
    mast = by_name["mast"]
    assert (mast.fill, mast.stroke, mast.stroke_width, mast.dash) == (None, "#f8f1e4", 12.0, "16 8")


def test_what_cannot_be_kept_is_named():
    text = """<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100"><filter id="f"/>
    <text>Gullwing</text><g filter="url(#f)"><rect width="10" height="10" fill="url(#dots)"/></g>
    <pattern id="dots"/><rect width="5" height="5" mask="url(#m)"/><rect width="5" height="5" fill="windy"/>
    <use href="#nowhere"/></svg>"""
    notes = " ".join(shapes_of(text.encode()).notes)
    for word in ("texts", "filters", "patterns", "masks", "windy", "not there"):
        assert word in notes, word


def test_hostile_svg_is_refused_before_it_is_read():
    bomb = '<!DOCTYPE svg [<!ENTITY a "aaaa">]><svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><path d="&a;"/></svg>'
    with pytest.raises(MediaError):
        shapes_of(bomb.encode())
    with pytest.raises(MediaError):
        shapes_of(
            b'<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><image href="file:///etc/passwd"/></svg>'
        )
    loop = '<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><g id="a"><use href="#a"/><rect width="3" height="3"/></g></svg>'
    with pytest.raises(MediaError, match="refers to itself"):
        shapes_of(loop.encode())


# Colour tables


def cube(size=2, body=None, head=""):
    if body is None:
        steps = [i / (size - 1) for i in range(size)]
        body = "\n".join(f"{r} {g} {b}" for b in steps for g in steps for r in steps)
    return f'TITLE "Dusk"\n{head}LUT_3D_SIZE {size}\n# a note\n{body}\n'.encode()


def test_an_identity_table_changes_nothing():
    pixels = np.random.default_rng(2).integers(0, 256, (9, 9, 4), dtype=np.uint8)
    pixels[..., 3] = 255
    for size in (2, 17):
        assert (
            np.abs(tone.through_cube(pixels, read_cube(cube(size))).astype(int) - pixels).max() <= 1
        )


def test_a_tables_axes_are_red_green_blue():
    swapped = "\n".join(f"{b} {g} {r}" for b in (0, 1) for g in (0, 1) for r in (0, 1))
    pixels = np.array([[[10, 90, 200, 255]]], np.uint8)
    assert tuple(tone.through_cube(pixels, read_cube(cube(2, swapped)))[0, 0]) == pytest.approx(
        (200, 90, 10, 255), abs=1
    )
    flat = b"LUT_1D_SIZE 3\n0 0 0\n0.25 0.5 1\n1 1 1\n"
    red, green, blue = read_cube(flat)[16, 16, 16]
    assert (red, green, blue) == pytest.approx((0.25, 0.5, 1.0), abs=0.01)


@pytest.mark.parametrize(
    ("data", "word"),
    [
        (b"nothing", "LUT_3D_SIZE"),
        (b"LUT_3D_SIZE 400\n", "size from 2"),
        (cube(2, "0 0 0\n1 1 1"), "expected 8"),
        (cube(2, "0 0 nan\n" * 8), "line 4: expected three numbers"),
        (cube(2, "0 0 0\n" * 9), "more entries"),
        (b"\xff\xfe\x00", "UTF-8"),
        (cube(2, head="DOMAIN_MIN 1 1 1\nDOMAIN_MAX 0 0 0\n"), "domain"),
    ],
)  # fmt: skip
def test_broken_tables_say_what_is_wrong(data, word):
    with pytest.raises(MediaError, match=word):
        read_cube(data)


# Noise and curves


@pytest.mark.parametrize("kind", ["smooth", "cellular"])
def test_noise_belongs_to_places_not_to_regions(kind):
    options = {"octaves": 4, "seed": 3, "z": 0.7, "kind": kind}
    whole = noise.fractal((-40, -30, 200, 160), (13.4, -7.7), 37.0, **options)
    part = noise.fractal((11, 25, 90, 101), (13.4, -7.7), 37.0, **options)
    assert np.abs(whole[55:131, 51:130] - part).max() < 1e-4
    moved = noise.fractal(
        (11 + 16, 25 - 8, 90 + 16, 101 - 8), (13.4 + 16, -7.7 - 8), 37.0, **options
    )
    assert np.abs(moved - part).max() < 1e-3
    assert 0.15 < whole.std() < 0.6 and np.abs(whole).max() < 1.6
    assert not np.array_equal(
        part, noise.fractal((11, 25, 90, 101), (13.4, -7.7), 37.0, **{**options, "seed": 4})
    )


def test_grain_is_a_bell_and_every_moment_is_new():
    a, b = (noise.grain(0, 0, 200, 200, moment, 1) for moment in (0, 1))
    assert abs(a.mean()) < 0.02 and a.std() == pytest.approx(1, abs=0.03)
    assert abs(float((a * b).mean())) < 0.02
    grey = np.full((64, 64, 4), 128, np.uint8)
    noise.add_grain(grey, 0, 0, 0, 1, 5.0, True)
    assert grey[..., 3].min() == 128 and (grey[..., 0] == grey[..., 2]).all()
    # Premultiplied by an alpha of one half, the deviation is halved as well.
    assert grey[..., 0].astype(float).std() < 3.5


def test_tone_curves_are_monotone_through_their_points():
    table = tone.curve_table(((0, 0.1), (0.3, 0.2), (0.5, 0.9), (1, 0.95)))
    assert np.all(np.diff(table) >= -1e-9)
    assert table[round(0.3 * 255)] == pytest.approx(0.2, abs=0.02) and table[-1] == pytest.approx(
        0.95
    )


# Spreads


@given(st.integers(1, 40), st.sampled_from(ORDERS), st.integers(0, 999))
def test_every_unit_has_its_turn(count, order, seed):
    found = ranks(count, order, seed, [float(i * 7 % 5) for i in range(count)])
    assert len(found) == count and min(found) >= 0 and max(found) <= count - 1 + 1e-9
    if order in ("forward", "back", "shuffled", "by-place"):
        assert sorted(found) == list(map(float, range(count)))


@given(st.integers(1, 20), st.floats(0.2, 8), st.floats(0, 1))
def test_a_front_settles_units_in_their_order(count, width, progress):
    profile = parse_easing("linear")
    values = [settled(progress, rank, count, width, profile) for rank in range(count)]
    assert values == sorted(values, reverse=True) and all(0 <= v <= 1 for v in values)
    assert (
        settled(0, 0, count, width, profile) == 0
        and settled(1, count - 1, count, width, profile) == 1
    )
