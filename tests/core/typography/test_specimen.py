"""What typefaces say of themselves, held against fontTools reading the same files."""

import re

import pytest
from fontTools.ttLib import TTFont

from young_comet.core.geometry.outline import from_svg_path
from young_comet.core.typography import FontLibrary
from young_comet.core.typography.lines import lay_out
from young_comet.core.typography.shipped import GROUPS, SHIPPED, shipped_files
from young_comet.core.typography.specimen import SPECIMEN_PX, facts_of, specimen
from young_comet.core.typography.style import Letters, TextStyle

LIBRARY = FontLibrary()
IDS = [family.id for family in SHIPPED]


def test_families_have_a_group_and_italics_that_are_there():
    assert len(set(IDS)) == len(IDS)
    assert {family.group for family in SHIPPED} == {group for group, _ in GROUPS}
    italics = {family.id: family.italic for family in SHIPPED if family.italic}
    assert italics["fraunces"] == "fraunces-italic" and set(italics.values()) <= set(IDS)
    for upright, italic in italics.items():
        assert italic == f"{upright}-italic"


@pytest.mark.parametrize("family", IDS)
def test_features_and_axes_are_those_of_the_files(family):
    tags, axes = set(), {}
    for path in shipped_files(family):
        font = TTFont(path)
        for table in ("GSUB", "GPOS"):
            if table in font and font[table].table.FeatureList:
                tags |= {each.FeatureTag for each in font[table].table.FeatureList.FeatureRecord}
        if "fvar" in font:
            axes |= {a.axisTag: (a.minValue, a.maxValue) for a in font["fvar"].axes}
    facts = facts_of(LIBRARY.typeface(family))
    told = {each.tag for each in facts.features}
    assert told <= tags
    # What is not told of is what a script needs, or what HarfBuzz does by itself.
    assert tags - told <= {
        "ccmp", "locl", "mark", "mkmk", "dnom", "numr", "rlig", "rvrn", "aalt", "sinf", "cpsp",
        "curs", "dist", "abvm", "blwm",
    }  # fmt: skip
    assert {axis.tag: (axis.least, axis.most) for axis in facts.axes} == axes
    assert all(
        axis.own == (axis.tag not in ("wght", "wdth", "opsz", "slnt")) for axis in facts.axes
    )


def test_scripts_are_those_whose_letters_are_there():
    assert facts_of(LIBRARY.typeface("permanent-marker")).scripts == ("Latin",)
    assert facts_of(LIBRARY.typeface("inter")).scripts == (
        "Latin", "Latin extended", "Greek", "Cyrillic",
    )  # fmt: skip
    assert facts_of(LIBRARY.typeface("noto-sans-thai")).scripts[-1] == "Thai"


@pytest.mark.parametrize("family", IDS)
def test_a_specimen_is_the_text_as_it_is_set(family):
    found = specimen(LIBRARY, family, "\n  Gullwing Bay \nKite Week", 700)
    style = TextStyle(
        Letters(family, weight=700, size_px=SPECIMEN_PX, optical_px=24), align="left", side=True
    )
    layout = lay_out(LIBRARY, "Gullwing Bay", style)
    drawn = from_svg_path(found.path).bounds
    assert drawn == pytest.approx(layout.outline.bounds, abs=0.15)
    left, top, right, bottom = found.box
    assert left <= drawn[0] + 0.1 and top <= drawn[1] + 0.1
    assert right >= drawn[2] - 0.1 and bottom >= drawn[3] - 0.1
    assert not re.search(r"\.\d\d", found.path)


@pytest.mark.parametrize("words", ["", " \n ", "\u0301" * 300, "A" * 4000, "\x00\x07", "😀"])
def test_odd_words_make_a_specimen_too(words):
    found = specimen(LIBRARY, "caveat", words, 1000)
    assert found.box[2] >= found.box[0] and found.box[3] > found.box[1]
    assert len(found.path) < 100_000
