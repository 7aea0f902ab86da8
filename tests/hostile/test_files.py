"""Files made to stop or to hold up whatever reads them."""

import io
import struct
import threading
import time
import zlib

import pytest
from tests.hostile.media_fuzz import KITE, run

from young_comet.core.media import check_svg, read_cube, shapes_of
from young_comet.errors import MediaError
from young_comet.reading import ForeignReader

HEAD = '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="100" height="100">'


def svg(body):
    return f"{HEAD}{body}</svg>".encode()


def nested(count):
    return svg("<g opacity='.9'>" * count + "<rect width='9' height='9'/>" + "</g>" * count)


def filtered(step):
    return svg(f'<filter id="f">{step}</filter><rect width="90" height="90" filter="url(#f)"/>')


def multiplied(levels):
    body = '<g id="a0"><rect width="3" height="3"/></g>'
    for n in range(1, levels):
        body += f'<g id="a{n}">' + f'<use xlink:href="#a{n - 1}"/>' * 10 + "</g>"
    return svg(f"<defs>{body}</defs><use xlink:href='#a{levels - 1}'/>")


COSTLY = {
    "nested groups": nested(300),
    "a pattern of 10^7 units": svg('<pattern id="p" width="1e7" height="1e7" patternUnits="userSpaceOnUse"><rect width="9" height="9"/></pattern><rect width="90" height="90" fill="url(#p)"/>'),
    "octaves": filtered('<feTurbulence baseFrequency="0.1" numOctaves="1000000"/>'),
    "a wide morphology": filtered('<feMorphology operator="dilate" radius="2000"/>'),
    "a large convolution": filtered(f'<feConvolveMatrix order="99" kernelMatrix="{"1 " * 9801}"/>'),
    "many filter steps": filtered('<feGaussianBlur stdDeviation="90"/>' * 400),
    "attributes": svg("<rect " + " ".join(f'a{n}="1"' for n in range(50_000)) + "/>"),
    "points": svg('<path d="M0 0' + "L1 1" * 1_000_000 + '"/>'),
    "rules": svg("<style>" + "".join(f".r{n} {{ fill: #fff }}" for n in range(100_000)) + "</style><rect width='9' height='9'/>"),
    "references that multiply": multiplied(9),
    "a clip path that clips itself": svg('<clipPath id="c" clip-path="url(#c)"><rect width="9" height="9"/></clipPath><rect width="90" height="90" clip-path="url(#c)"/>'),
    "masks in a ring": svg('<mask id="a" mask="url(#b)"><rect width="9" height="9"/></mask><mask id="b" mask="url(#a)"><rect width="9" height="9"/></mask><rect width="9" height="9" mask="url(#a)"/>'),
    "a use of itself": svg('<g id="g"><use xlink:href="#g"/></g>'),
    "a huge viewBox": b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1e30 1e30"/>',
    "entities": b'<!DOCTYPE s [<!ENTITY a "aa">]><svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>&a;</text></svg>',
    "another file": svg('<image xlink:href="file:///etc/passwd" width="9" height="9"/>'),
}  # fmt: skip


@pytest.mark.parametrize("what", COSTLY)
def test_drawings_that_cost_too_much_are_refused_before_they_are_drawn(what):
    began = time.monotonic()
    with pytest.raises(MediaError) as refused:
        check_svg(COSTLY[what])
    assert str(refused.value) and time.monotonic() - began < 4
    with pytest.raises(MediaError):
        shapes_of(COSTLY[what])


def test_an_ordinary_drawing_passes_all_limits():
    assert check_svg(KITE.encode()) == (60, 40)


# The process that reads

SLOW = svg(
    '<filter id="f">'
    + '<feGaussianBlur stdDeviation="900"/>' * 150
    + '</filter><rect width="90" height="90" filter="url(#f)"/>'
)


@pytest.fixture
def reading():
    reader = ForeignReader(memory_mb=300)
    yield reader
    reader.stop()


def process_of(reader):
    return reader._process.pid


def test_a_file_that_is_refused_costs_no_process(reading):
    with pytest.raises(MediaError, match="no readable"):
        reading.ask("examine", b"Once upon a time", 10**6)
    first = process_of(reading)
    assert reading.ask("examine", KITE.encode(), 10**6).facts["kind"] == "svg"
    assert process_of(reading) == first


def test_a_file_that_takes_too_long_is_given_up_and_the_next_one_is_read(reading):
    reading.ask("examine", KITE.encode(), 10**6)
    first, began = process_of(reading), time.monotonic()
    with pytest.raises(MediaError, match=r"more than 0\.3 s"):
        reading.ask("drawing", SLOW, 20.0, within_s=0.3)
    assert time.monotonic() - began < 5
    assert reading.ask("examine", KITE.encode(), 10**6).facts["width"] == 60
    assert process_of(reading) != first


def test_a_process_that_is_killed_while_it_reads_costs_that_file_alone(reading):
    reading.ask("examine", KITE.encode(), 10**6)
    threading.Timer(0.1, reading._process.kill).start()
    with pytest.raises(MediaError, match="stop"):
        reading.ask("drawing", SLOW, 20.0, within_s=20)
    assert reading.ask("examine", KITE.encode(), 10**6).facts["kind"] == "svg"


def grey_png(width, height, depth):
    """A PNG of one grey in few bytes, whatever its size."""
    row = b"\0" + b"\x55" * ((width * depth + 7) // 8)
    packer = zlib.compressobj(9)
    data = b"".join(packer.compress(row) for _ in range(height)) + packer.flush()

    def chunk(name, body):
        return (
            struct.pack(">I", len(body)) + name + body + struct.pack(">I", zlib.crc32(name + body))
        )

    head = struct.pack(">IIBBBBB", width, height, depth, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", data) + chunk(b"IEND", b"")


def test_a_large_picture_of_two_tones_is_read_without_being_unpacked(reading):
    data = grey_png(9000, 9000, 1)
    assert len(data) < 200_000
    began = time.monotonic()
    found = reading.ask("examine", data, 100_000_000)
    assert (found.facts["width"], found.facts["height"]) == (9000, 9000) and found.thumbnail
    assert time.monotonic() - began < 6  # 300 MB of memory are enough, too


def test_a_picture_that_needs_more_memory_than_there_is_is_refused():
    reading = ForeignReader(memory_mb=100)
    with pytest.raises(MediaError):
        reading.ask("examine", grey_png(9000, 9000, 16), 200_000_000)
    assert reading.ask("examine", KITE.encode(), 10**6).facts["kind"] == "svg"
    reading.stop()


def test_files_changed_at_random_are_refused_or_usable(tmp_path):
    found = run(tmp_path, 3, 480)
    assert found.troubles == []
    assert sum(found.accepted.values()) > 80 and sum(found.refused.values()) > 80
    assert found.slowest[0] < 5


@pytest.mark.parametrize("size", ["\u00b2", "2.0", "-3", "1e3", "\u0662", "99999999999999999999"])
def test_sizes_of_colour_tables_are_plain_digits(size):
    with pytest.raises(MediaError, match="expected a size"):
        read_cube(f"LUT_3D_SIZE {size}\n".encode())


def test_an_archive_with_a_damaged_entry_says_which(tmp_path):
    import zipfile

    from young_comet.reading.archived import archived_project

    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr(
            "project.json", b'{"schema_version": 4, "id": "k", "name": "Kite Week"}' * 40
        )
    data = bytearray(target.getvalue())
    data[60:70] = b"\xff" * 10
    path = tmp_path / "damaged.zip"
    path.write_bytes(data)
    with pytest.raises(MediaError, match=r"project\.json in the archive is damaged"):
        archived_project(str(path), False)
