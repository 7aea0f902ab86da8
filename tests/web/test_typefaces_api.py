"""Typefaces over HTTP: what they have, and words in their design."""

import pytest

from young_comet.core.typography import FontLibrary
from young_comet.core.typography.shipped import SHIPPED, shipped_files
from young_comet.errors import NotFoundError


def asked(client, project_id, **query):
    return client.get(f"/api/projects/{project_id}/typefaces", params=query)


def test_all_typefaces_are_listed_and_drawn_where_words_are_given(client, project_id):
    bare = asked(client, project_id).json()
    assert [each["id"] for each in bare["typefaces"]] == [family.id for family in SHIPPED]
    assert all("path" not in each and each["features"] is not None for each in bare["typefaces"])
    drawn = asked(client, project_id, words="Kite\nWeek", weight=800).json()["typefaces"]
    assert all(each["path"].startswith("M") and each["box"][2] > 20 for each in drawn)
    assert len({each["path"] for each in drawn}) == len(drawn)
    serif = next(each for each in drawn if each["id"] == "source-serif")
    assert {"tag": "smcp", "label": "Small capitals", "by_itself": False} in serif["features"]
    assert {"tag": "liga", "label": "Ligatures", "by_itself": True} in serif["features"]
    weight = next(axis for axis in serif["axes"] if axis["tag"] == "wght")
    assert (weight["label"], weight["least"], weight["most"]) == ("Weight", 200, 900)


def test_a_font_of_the_project_is_among_them(client, project_id):
    data = shipped_files("pacifico")[0].read_bytes()
    answer = client.post(f"/api/projects/{project_id}/assets?name=kite.ttf", content=data)
    asset = answer.json()["asset"]
    *_, own = asked(client, project_id, words="Kite").json()["typefaces"]
    assert (own["id"], own["group"], own["fault"]) == (f"asset:{asset['id']}", "own", "")
    assert own["name"] == "Pacifico" and own["path"].startswith("M")
    # A file that has gone is told of, and the others are listed as before.
    services = client.app.state.services
    services.fonts = FontLibrary(services.assets.read_asset)
    for file in services.folder.assets_dir.rglob(f"*{asset['hash'][4:]}*"):
        file.unlink()
    with pytest.raises(NotFoundError):
        services.assets.read_asset(asset["hash"])
    listed = asked(client, project_id, words="Kite").json()["typefaces"]
    assert len(listed) == len(SHIPPED) + 1 and listed[-1]["fault"] and listed[-1]["path"]


@pytest.mark.parametrize(
    ("query", "field"),
    [({"words": "a" * 4001}, "words"), ({"weight": 0}, "weight"), ({"weight": "nan"}, "weight"),
     ({"weight": "bold"}, "weight")],
)  # fmt: skip
def test_wrong_questions_are_refused_by_name(client, project_id, query, field):
    answer = asked(client, project_id, **query)
    assert answer.status_code == 422 and field in str(answer.json()["error"])


def test_typefaces_of_a_project_that_is_not_there(client):
    assert asked(client, "nobody").status_code == 404
