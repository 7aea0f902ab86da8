import io
import struct
import zlib

import cv2
import numpy as np
import pytest
from PIL import Image
from tests.build import png

from young_comet.core.media import check_picture, check_svg, decode_picture, draw_svg, thumbnail
from young_comet.core.media.palette import palette
from young_comet.core.media.pictures import picture_thumbnail
from young_comet.errors import MediaError, MediaTooLargeError

SVG = '<svg xmlns="http://www.w3.org/2000/svg" width="80" height="40" viewBox="0 0 8 4">{}</svg>'


def svg(body: str) -> bytes:
    return SVG.format(body).encode()


@pytest.mark.parametrize("format", ["PNG", "JPEG", "WEBP"])
def test_pictures_are_known_by_their_content(format):
    target = io.BytesIO()
    Image.new("RGB", (50, 20), (255, 122, 69)).save(target, format, quality=95)
    info = check_picture(target.getvalue())
    assert (info.width, info.height) == (50, 20)
    assert info.media_type == f"image/{format.lower()}"
    pixel = decode_picture(target.getvalue())[10, 25].astype(int)
    assert np.abs(pixel - (69, 122, 255, 255)).max() <= 4


def test_alpha_is_premultiplied():
    pixel = decode_picture(png(colour=(200, 100, 50, 128)))[0, 0]
    assert tuple(pixel) == (25, 50, 100, 128)


def test_camera_rotation_is_applied():
    image = Image.new("RGB", (60, 20), (0, 0, 0))
    exif = Image.Exif()
    exif[0x0112] = 6  # turn by a quarter
    target = io.BytesIO()
    image.save(target, "JPEG", exif=exif)
    info = check_picture(target.getvalue())
    assert (info.width, info.height) == (20, 60)


@pytest.mark.parametrize(
    "data", [b"", b"Just a text called kite.png", png()[:60], b"GIF89a" + b"\0" * 40]
)
def test_files_that_are_no_pictures_are_refused(data):
    with pytest.raises(MediaError):
        check_picture(data)


def test_a_damaged_picture_is_refused():
    data = bytearray(png(200, 200))
    data[len(data) // 2] ^= 0xFF
    with pytest.raises(MediaError):
        check_picture(bytes(data))


def test_too_many_pixels_are_refused_before_they_are_unpacked():
    # A PNG header that claims 60000 x 60000 pixels, with no data behind it.
    header = struct.pack(">IIBBBBB", 60000, 60000, 8, 2, 0, 0, 0)
    chunk = b"IHDR" + header
    body = struct.pack(">I", 13) + chunk + struct.pack(">I", zlib.crc32(chunk))
    with pytest.raises(MediaTooLargeError):
        check_picture(b"\x89PNG\r\n\x1a\n" + body + png()[33:])
    with pytest.raises(MediaTooLargeError, match="at most 1,000"):
        check_picture(png(40, 30), max_pixels=1000)


def test_svg_is_drawn_at_any_scale_with_its_styles():
    data = svg('<style>.sail{fill:#ff7a45}</style><rect class="sail" width="4" height="4"/>')
    assert check_svg(data) == (80, 40)
    pixels = draw_svg(data, 2.0)
    assert pixels.shape == (80, 160, 4)
    assert tuple(pixels[40, 40]) == (0x45, 0x7A, 0xFF, 255)
    assert pixels[40, 120, 3] == 0


def test_svg_sizes_follow_width_height_and_view_box():
    head = '<svg xmlns="http://www.w3.org/2000/svg" {}><rect width="9" height="9"/></svg>'
    sizes = {
        'viewBox="0 0 30 20"': (30, 20),
        'width="1in" height="48"': (96, 48),
        'width="60" viewBox="0 0 30 20"': (60, 40),
    }
    for attributes, size in sizes.items():
        assert check_svg(head.format(attributes).encode()) == pytest.approx(size)


BOMB = (
    '<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;">]>'
    '<svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>'
)
OUTSIDE = '<image href="file:///etc/passwd" width="8" height="4"/>'
LINKED = (
    '<image xmlns:x="http://www.w3.org/1999/xlink" x:href="../secret.png" width="8" height="4"/>'
)


def test_svg_without_any_size_has_that_of_css():
    """CSS 2.2, 10.3.2: what is replaced and has no size is 300 by 150."""
    bare = b'<svg xmlns="http://www.w3.org/2000/svg"><rect width="4" height="4"/></svg>'
    assert check_svg(bare) == (300, 150)
    assert draw_svg(bare, 1.0).shape == (150, 300, 4)


@pytest.mark.parametrize(
    "data",
    [BOMB.encode(), svg(OUTSIDE), svg(LINKED), b"<svg", b"<html></html>", b"<svg xmlns='x'>\xff"],
)
def test_hostile_and_broken_svg_is_refused(data):
    with pytest.raises(MediaError):
        check_svg(data)


def test_svg_of_absurd_size_is_refused():
    with pytest.raises(MediaTooLargeError):
        check_svg(b'<svg xmlns="http://www.w3.org/2000/svg" width="900000" height="10"/>')


def test_thumbnails_fit_and_keep_the_proportion():
    data = thumbnail(decode_picture(png(400, 100)), 200)
    assert Image.open(io.BytesIO(data)).size == (200, 50)


def test_the_palette_finds_the_colours_of_a_picture():
    image = Image.new("RGB", (90, 60), (23, 34, 77))
    image.paste((255, 122, 69), (0, 0, 30, 60))
    image.paste((47, 159, 179), (30, 0, 45, 60))
    target = io.BytesIO()
    image.save(target, "PNG")
    assert palette(decode_picture(target.getvalue())) == ["#17224d", "#ff7a45", "#2f9fb3"]
    assert palette(decode_picture(png(colour=(0, 0, 0, 0)))) == []


@pytest.mark.parametrize("clear", [None, 0])
def test_a_grey_picture_of_16_bits_keeps_its_levels(clear):
    levels = np.linspace(0, 65535, 256).round().astype(np.uint16).reshape(16, 16)
    target = io.BytesIO()
    more = {} if clear is None else {"transparency": clear}
    Image.fromarray(levels).save(target, "PNG", **more)
    pixels = decode_picture(target.getvalue())
    assert pixels[:, :, 0].ravel().tolist() == list(range(256))
    assert pixels[0, 0, 3] == (255 if clear is None else 0) and pixels[0, 1, 3] == 255
    assert check_picture(target.getvalue()).width == 16
    assert len(picture_thumbnail(target.getvalue(), 10_000, 8)) > 20


def edged(scale=1, ground=(255, 255, 255)):
    """A navy disc with a red ring on white, smooth edges: three colours and their mixtures."""
    fine = np.full((480 * scale, 640 * scale, 3), ground, np.uint8)
    cv2.circle(fine, (320 * scale, 240 * scale), 150 * scale, (40, 40, 220), -1, cv2.LINE_AA)
    cv2.circle(fine, (320 * scale, 240 * scale), 120 * scale, (110, 60, 20), -1, cv2.LINE_AA)
    alpha = np.full(fine.shape[:2], 255, np.uint8)
    return np.dstack([cv2.GaussianBlur(fine, (0, 0), 1.2), alpha])


@pytest.mark.parametrize("scale", [1, 3])
def test_a_palette_has_no_mixtures_of_edges_and_gives_colours_exactly(scale):
    assert sorted(palette(edged(scale))) == ["#143c6e", "#dc2828", "#ffffff"]


def test_a_palette_of_a_gradient_still_has_colours():
    ramp = np.tile(np.linspace(0, 255, 300).astype(np.uint8), (200, 1))
    picture = np.dstack([ramp, ramp[:, ::-1], np.full_like(ramp, 90), np.full_like(ramp, 255)])
    assert 3 <= len(palette(np.ascontiguousarray(picture))) <= 6


def test_the_colours_of_a_drawing_are_those_that_it_names():
    from young_comet.core.media import shapes_of
    from young_comet.core.media.palette import declared, nearest

    body = b"""<svg xmlns="http://www.w3.org/2000/svg" width="100" height="100"><defs>
    <linearGradient id="g"><stop stop-color="#f2c14e"/><stop offset="1" stop-color="#76b041" stop-opacity="0"/></linearGradient></defs>
    <rect width="100" height="100" fill="#123b5d"/><circle cx="50" cy="50" r="30" fill="url(#g)" stroke="#e4572e" stroke-width="4"/>
    <rect x="5" y="5" width="9" height="9" fill="#133c5e"/><path d="M0 0h9" stroke="#ffffff80"/></svg>"""
    found = declared(shapes_of(body))
    assert found[0] == "#123b5d" and "#133c5e" not in found  # hardly another colour
    assert {"#f2c14e", "#e4572e", "#ffffff"} <= set(found) and "#76b041" not in found
    assert (
        nearest("#123b5e", ["#ffffff", "#123b5d"]) == 1 and nearest("#123b5d", ["#777777"]) is None
    )
    assert nearest("#123b5d", []) is None
