import io

import pytest
import skia
import uharfbuzz as hb
from fontTools.ttLib import TTFont

from young_comet.core.typography import FontLibrary, check_font
from young_comet.core.typography.lines import lay_out
from young_comet.core.typography.shipped import FACES_DIR, SHIPPED, shipped_files
from young_comet.core.typography.style import Letters, TextStyle
from young_comet.errors import MediaError

LIBRARY = FontLibrary()


def style(font="montserrat", size=100.0, tracking=0.0, align="left", weight=600.0, leading=120.0):
    return TextStyle(Letters(font, weight, size, tracking), leading, align)


@pytest.mark.parametrize("family", [entry.id for entry in SHIPPED])
def test_every_shipped_family_sets_text_and_has_its_licence(family):
    layout = lay_out(LIBRARY, "Gullwing Bay", style(family))
    assert layout.width > 300 and not layout.outline.is_empty
    assert all(glyph.id != 0 for glyph in layout.glyphs)
    assert (FACES_DIR / family / "LICENSE").stat().st_size > 500


def test_there_are_twelve_families():
    assert len(SHIPPED) == 31


def test_widths_agree_with_harfbuzz_asked_directly():
    data = shipped_files("oswald")[0].read_bytes()
    font = hb.Font(hb.Face(hb.Blob(data)))
    font.set_variations({"wght": 500})
    buffer = hb.Buffer()
    buffer.add_str("AVATAR Toy")
    buffer.guess_segment_properties()
    hb.shape(font, buffer)
    width = sum(p.x_advance for p in buffer.glyph_positions) * 100 / font.face.upem
    assert lay_out(LIBRARY, "AVATAR Toy", style("oswald", weight=500)).width == pytest.approx(width)
    # Kerning is applied: the pair is narrower than its letters alone.
    parts = [lay_out(LIBRARY, c, style("oswald", weight=500)).width for c in "AV"]
    assert lay_out(LIBRARY, "AV", style("oswald", weight=500)).width < sum(parts)


def test_outlines_agree_with_skia_drawing_the_same_face():
    path = str(shipped_files("permanent-marker")[0])
    font = skia.Font(skia.Typeface.MakeFromFile(path), 200)
    expected = font.getPath(font.unicharToGlyph(ord("G"))).computeTightBounds()
    layout = lay_out(LIBRARY, "G", style("permanent-marker", size=200))
    left, top, right, bottom = layout.outline.bounds
    assert right - left == pytest.approx(expected.width(), abs=0.6)
    assert bottom - top == pytest.approx(expected.height(), abs=0.6)


def test_tracking_goes_between_letters_only():
    plain = lay_out(LIBRARY, "KITE", style()).width
    assert lay_out(LIBRARY, "KITE", style(tracking=100)).width == pytest.approx(plain + 3 * 10)


def test_lines_leading_and_alignment():
    text = "Bay\nKite Week"
    left, right = (lay_out(LIBRARY, text, style(align=a)) for a in ("left", "right"))
    assert left.baselines[1] - left.baselines[0] == pytest.approx(120)
    first = [min(g.x for g in layout.glyphs if g.cluster < 3) for layout in (left, right)]
    assert first[0] == pytest.approx(-left.width / 2, abs=1)
    assert first[1] > first[0] + 50
    assert lay_out(LIBRARY, text, style(align="centre")).width == left.width


def test_weight_changes_the_width_of_a_variable_face():
    assert (
        lay_out(LIBRARY, "WIND", style(weight=900)).width
        > lay_out(LIBRARY, "WIND", style(weight=200)).width
    )


def test_letters_that_a_face_lacks_come_from_another():
    layout = lay_out(LIBRARY, "Kite змей ψ", style("caveat"))
    assert all(glyph.id != 0 for glyph in layout.glyphs)
    assert len({id(glyph.face) for glyph in layout.glyphs}) >= 2


def test_an_empty_text_has_a_height_and_no_outline():
    layout = lay_out(LIBRARY, "", style())
    assert layout.width == 0 and layout.height > 50 and layout.outline.is_empty


def test_uploaded_fonts_are_opened_and_woff2_is_unpacked():
    source = shipped_files("oswald")[0]
    font = TTFont(source)
    font.flavor = "woff2"
    packed = io.BytesIO()
    font.save(packed)
    info, plain = check_font(packed.getvalue())
    assert plain[:4] == b"\x00\x01\x00\x00"
    assert "Oswald" in info.family and info.weights == (200, 700)


@pytest.mark.parametrize(
    "data",
    [b"", b"no font at all", b"wOF2" + b"\0" * 200, b"\x00\x01\x00\x00" + b"\xff" * 100],
)
def test_files_that_are_no_fonts_are_refused(data):
    with pytest.raises(MediaError):
        check_font(data)


def test_a_truncated_font_is_refused():
    data = shipped_files("nunito")[0].read_bytes()
    with pytest.raises(MediaError):
        check_font(data[: len(data) // 3])


def test_a_text_set_to_a_side_grows_away_from_it():
    """Its side stays in place whatever it says, how large and how wide it is; its middle may."""
    from tests.build import layer, project

    from young_comet.core.resolve import SceneEvaluator

    def box(**values):
        made = layer("kite", "text", position=[160.0, 90.0], **values)
        ev = SceneEvaluator(project(made), "reveal")
        return ev.content_box(ev.values(ev.find("kite"), 0.0))

    for words in ("Gull", "Gullwing Bay\nKite Week", ""):
        for more in ({}, {"text__size": 30.0}, {"text__tracking": 300.0}):
            left, right = (box(text=words, text__align=side, **more) for side in ("left", "right"))
            assert left[0] == 0 and right[2] == 0
            for side in ("left", "centre", "right"):
                middle = box(text=words, text__align=side, text__grows="middle", **more)
                assert middle[0] == pytest.approx(-middle[2])
                assert middle[2] - middle[0] == pytest.approx(left[2] - left[0])


def test_documents_in_which_texts_grew_from_their_middles_look_as_they_did():
    import json

    import numpy as np
    from tests.build import draw, layer, project

    from young_comet.core.model import load_project

    for side in ("left", "right", "centre"):
        made = layer(
            "kite", "text", position=[160.0, 90.0], text="Kite\nWeek now", text__align=side
        )
        data = json.loads(project(made).model_dump_json())
        old = load_project({**data, "schema_version": 5})
        grows = old.scenes[0].layers[0].properties.get("text.grows")
        assert grows.value == "middle"
        # As the middle of the box was in place: the ink about it is where the centred text's is.
        pixels = draw(old)[..., 3]
        columns = np.nonzero(pixels.max(axis=0))[0]
        assert abs((columns[0] + columns[-1] + 1) / 2 - 160) < 4
    (plain,) = load_project({**json.loads(project(layer("k", "text")).model_dump_json()), "schema_version": 5}).scenes[0].layers  # fmt: skip
    assert "text.grows" not in plain.properties


def test_a_text_on_a_path_is_where_its_path_says():
    from tests.build import layer, project

    from young_comet.core.resolve import SceneEvaluator

    boxes = []
    for grows in ("side", "middle"):
        made = layer("kite", "text", text__align="left", text__path="M0 0 H200", text__grows=grows)
        frame = SceneEvaluator(project(made), "reveal").at(0.0)
        boxes.append(frame.layers[0].content)
    assert boxes[0] == boxes[1]
