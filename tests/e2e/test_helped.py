"""Every control says what it is for: in its own words, or where the pointer rests on it."""

import pytest
from tests.e2e.steps import LINKED_LAYERS, open_desk, settle

# What is seen and can be used, has no words of its own, and neither it nor what it lies in has help.
WITHOUT_HELP = """() => {
  const seen = (e) => e.getClientRects().length && getComputedStyle(e).visibility !== "hidden";
  const words = (e) => (e.textContent || "").replace(/[^a-z]/gi, "").length > 2;
  const helped = (e) =>
    e.title || e.getAttribute("aria-description") ||
    (e.tagName === "BUTTON" && words(e)) || (e.tagName === "A" && words(e)) ||
    e.placeholder || (e.closest("label") && words(e.closest("label"))) ||
    (e.id && document.querySelector(`label[for="${e.id}"]`)) ||
    e.closest("[title]") || e.closest(".prop")?.querySelector(".label[title]");
  return [...document.querySelectorAll(
    "button, input, select, textarea, a[href], [role=slider], [role=separator][tabindex]")]
    .filter((e) => seen(e) && !e.disabled && e.type !== "file" && !helped(e))
    .map((e) => `${e.tagName} ${e.className} ${e.getAttribute("aria-label")} in ` +
      (e.closest("[data-section]")?.dataset.section || e.parentElement.className));
}"""

LAYERS = [
    *LINKED_LAYERS,
    {"id": "sail", "name": "Sail", "kind": "shape", "start_s": 0, "end_s": 4, "arrive_s": 1,
     "properties": {"shape.kind": {"value": "path"}, "shape.path": {"value": "M0 0 L90 0 L40 80 Z"},
                    "position": {"value": [300, 500]}, "stroke.width": {"value": 6},
                    "mask.m1.path": {"value": "M0 0 L60 0 L40 80 Z"}},
     "masks": [{"id": "m1", "name": "Cloth", "colour": "#7fd4e8"}],
     "effects": [{"id": "e1", "kind": "glow"}],
     "moves": [{"id": "v1", "kind": "lift", "phase": "arrive"}]},
]  # fmt: skip


@pytest.fixture
def desk(page, server):
    open_desk(page, server, "Helped", LAYERS, 4)
    return page


def missing(page):
    """What has no help now; everything that folds is opened first."""
    page.evaluate(
        """() => [...document.querySelectorAll(".column [aria-expanded=false]")]
        .filter((e) => e.getClientRects().length).forEach((e) => e.click())"""
    )
    settle(page)
    return without_help(page)


def without_help(page):
    return sorted(set(page.evaluate(WITHOUT_HELP)))


@pytest.mark.parametrize("chosen", [[], ["name"], ["sail"], ["sky"], ["kite", "bow"]])
def test_every_control_of_the_editor_has_help(desk, chosen):
    desk.evaluate("(ids) => youngComet.editor.select(ids)", chosen)
    settle(desk)
    found = {}
    for tab in desk.get_by_role("tab").all():
        tab.click()
        settle(desk)
        if without := missing(desk):
            found[tab.inner_text()] = without
    assert found == {}


@pytest.mark.parametrize("where", ["/", "/projects/kite-week", "/renders", "/help"])
def test_every_control_of_the_pages_has_help(page, server, where):
    page.goto(server.url + where)
    page.wait_for_timeout(500)
    assert without_help(page) == []
