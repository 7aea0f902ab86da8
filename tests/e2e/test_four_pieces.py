"""Four pieces made from an empty project through the interface alone, every deed counted.

A deed is what a hand does at once: a click, a key with what is held, a stretch of typing, a drag.
"""

from __future__ import annotations

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import at, layers, settle

LOGO = (
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 200 240">'
    '<path d="M100 0 200 90 100 240 0 90Z" fill="#2f9fb3"/>'
    '<path d="M100 0 200 90 0 90Z" fill="#ffb44a"/></svg>'
)


class Hand:
    """Does and counts."""

    def __init__(self, page):
        self.page, self.deeds = page, 0

    def click(self, target):
        self.deeds += 1
        (self.page.locator(target) if isinstance(target, str) else target).click()

    def key(self, keys):
        self.deeds += 1
        self.page.keyboard.press(keys)

    def type(self, text):
        self.deeds += 1
        self.page.keyboard.type(text)

    def choose(self, label, value):
        self.deeds += 1
        self.page.get_by_label(label, exact=True).first.select_option(value)

    def click_at(self, x, y):
        self.deeds += 1
        self.page.mouse.click(*at(self.page, x, y))

    def drag(self, start, end):
        self.deeds += 1
        page = self.page
        page.mouse.move(*at(page, *start))
        page.mouse.down()
        page.mouse.move(*at(page, *end), steps=6)
        page.mouse.up()

    def done(self):
        settle(self.page)

    # What is made of several

    def find(self, words):
        self.key("Control+k")
        self.type(words)
        self.page.wait_for_timeout(150)
        self.key("Enter")
        self.page.wait_for_timeout(150)

    def scene(self, name):
        self.click(self.page.get_by_role("button", name="New scene").first)
        self.type(name)
        self.key("Enter")
        self.page.wait_for_url("**/scenes/*")
        self.done()

    def text(self, words, x, y):
        self.key("8")
        self.click_at(x, y)
        self.page.locator(".editing-text").wait_for()
        self.type(words)
        self.key("Escape")
        self.done()

    def move(self, kind):
        self.click(f'.move-grid [data-move-kind="{kind}"]')
        self.page.wait_for_timeout(120)
        self.done()

    def tab(self, name):
        self.click(self.page.get_by_role("tab", name=name))

    def render(self):
        self.click(self.page.get_by_role("button", name="Render", exact=True))
        self.click(self.page.locator("dialog[open] button.main-action"))
        expect(self.page.locator("dialog[open]")).to_be_hidden()


@pytest.fixture
def hand(page, server):
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(server.url)
    answer = page.request.post(f"{server.url}/api/projects", data={"name": "Four pieces"})
    page.goto(f"{server.url}/projects/{answer.json()['project']['id']}")
    return Hand(page)


def kinds(page):
    return [each["kind"] for each in layers(page)]


def test_a_logo_reveal_in_thirty_deeds(hand, tmp_path):
    page = hand.page
    hand.scene("Logo reveal")
    hand.click('#tools [data-add="backdrop"]')
    hand.done()
    hand.choose("Fill type", "linear")
    hand.done()
    logo = tmp_path / "kite.svg"
    logo.write_text(LOGO)
    with page.expect_file_chooser() as chooser:
        hand.click('#tools [data-add="picture"]')
    hand.deeds += 1
    chooser.value.set_files(str(logo))
    page.wait_for_function("() => youngComet.editor.layers.some((l) => l.kind === 'picture')")
    hand.done()
    hand.tab("Moves")
    hand.move("spring-in")
    hand.find("glow")
    hand.done()
    hand.text("GULLWING", 960, 900)
    hand.tab("Moves")
    hand.move("lift")
    hand.choose("Spread unit", "letters")
    hand.done()
    hand.find("whoosh")
    page.wait_for_function("() => youngComet.editor.layers.some((l) => l.kind === 'sound')")
    hand.done()
    hand.render()
    made = layers(page)
    assert sorted(kinds(page)) == ["backdrop", "picture", "sound", "text"]
    picture = next(each for each in made if each["kind"] == "picture")
    assert picture["moves"] and picture["effects"]
    assert hand.deeds <= 30, hand.deeds


def test_a_lower_third_over_a_transparent_ground_in_twenty_five(hand):
    page = hand.page
    hand.scene("Lower third")
    hand.click(page.get_by_label("Transparent ground"))
    hand.done()
    hand.key("2")
    hand.drag((160, 800), (900, 960))
    hand.done()
    hand.tab("Moves")
    hand.move("unroll")
    for words, y in (("Oona Tidewell", 840), ("Kite maker", 910)):
        hand.text(words, 200, y)
        hand.tab("Moves")
        hand.move("lift")
    hand.key("Control+a")
    hand.click('[data-phase="leave"]')
    hand.move("fade")
    hand.render()
    made = layers(page)
    assert (
        kinds(page) == ["shape", "text", "text"]
        and page.evaluate("youngComet.editor.scene.ground") is None
    )
    assert all(len(each["moves"]) == 2 for each in made)
    assert hand.deeds <= 25, hand.deeds


def test_a_kinetic_title_on_marks_in_thirty_five(hand):
    page = hand.page
    hand.scene("Kinetic title")
    hand.click('#tools [data-add="backdrop"]')
    hand.done()
    for number, words in enumerate(("CATCH", "THE", "WIND")):
        if number:
            hand.click("#time-field")
            hand.type(f"{number}s")
            hand.key("Enter")
            hand.done()
        hand.key("Shift+Enter")
        hand.done()
        hand.text(words, 500 + 400 * number, 540)
        if not number:
            hand.tab("Moves")
        if page.locator(".move-grid").is_hidden():
            hand.tab("Moves")
        hand.move("drop" if number else "slide")
    hand.render()
    assert kinds(page) == ["backdrop", "text", "text", "text"]
    starts = [each["start_s"] for each in layers(page)[1:]]
    marks = [each["time_s"] for each in page.evaluate("youngComet.editor.scene.marks")]
    assert starts == pytest.approx([0, 1, 2]) and marks == pytest.approx([0, 1, 2])
    assert hand.deeds <= 35, hand.deeds


def test_an_opener_of_the_other_scenes_in_twelve(hand):
    page = hand.page
    base = page.url
    for name in ("Reveal", "Title"):
        hand.scene(name)
        hand.find("add a text")
        hand.done()
        page.goto(base)
        page.locator(".card-tile").first.wait_for()
    hand.deeds = 0
    hand.scene("Opener")
    hand.find("other scenes one after")
    hand.done()
    hand.key("Control+a")
    hand.tab("Moves")
    hand.move("fade")
    hand.render()
    made = layers(page)
    assert [each["name"] for each in made] == ["Reveal", "Title"]
    assert made[1]["start_tie"]["id"] == made[0]["id"] and all(each["moves"] for each in made)
    assert page.evaluate("youngComet.editor.scene.length_s") == pytest.approx(made[1]["end_s"])
    assert hand.deeds <= 12, hand.deeds
