"""The help page tells all that the editor declares; the tour has a project of its own."""

from young_comet.core.catalog import LAYER_KINDS
from young_comet.core.effects import EFFECTS
from young_comet.core.moves import MOVES
from young_comet.web.terms import TERMS


def test_every_effect_move_term_and_field_is_there(client):
    page = client.get("/help").text
    for kind in (*EFFECTS.values(), *MOVES.values()):
        assert f"<strong>{kind.label}</strong>" in page, kind.id
    for term in TERMS:
        assert f'id="term-{term.id}"' in page
    for kind in LAYER_KINDS.values():
        for spec in kind.specs:
            assert f"<dt>{spec.label}</dt>" in page, spec.id


def test_terms_are_whole_sentences_that_show_what_there_is(client):
    assert len({term.id for term in TERMS}) == len(TERMS) > 30
    for term in TERMS:
        assert term.text.endswith(".") and 40 < len(term.text) < 260
        if term.shown:
            kind, _, id = term.shown.partition(":")
            assert id in (MOVES if kind == "move" else EFFECTS)
    assert {each["id"] for each in client.get("/api/catalog").json()["terms"]} == {
        t.id for t in TERMS
    }


def test_the_tour_has_a_new_project_each_time(client):
    one, two = (client.post("/api/projects/tour").json() for _ in range(2))
    assert one["project"] != two["project"]
    state = client.get(f"/api/projects/{one['project']}").json()["project"]
    (scene,) = state["scenes"]
    assert scene["id"] == one["scene"] and any(la["kind"] == "text" for la in scene["layers"])
