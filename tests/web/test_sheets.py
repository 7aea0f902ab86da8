"""The sheets of all pages: Enter does what the sheet is for, whatever has the focus."""

from html.parser import HTMLParser

import pytest

PAGES = ("/", "/projects/{id}", "/projects/{id}/scenes/reveal", "/renders", "/help")
# Sheets that ask nothing: they show things to choose from, each a button of its own.
SHOWING = {
    "keysSheet",
    "finderSheet",
    "historySheet",
    "keyTable",
    "easingGallery",
    "effectSheet",
    "typefacesSheet",
    "frontsSheet",
}


class Sheets(HTMLParser):
    """Gathers dialogs: their name, their form's attributes, and the buttons in it."""

    def __init__(self):
        super().__init__()
        self.found, self._dialog = [], None

    def handle_starttag(self, tag, attrs):
        given = dict(attrs)
        if tag == "dialog":
            name = given.get("x-data") or given.get("x-ref")
            self._dialog = {"name": name, "form": None, "buttons": []}
            self.found.append(self._dialog)
        elif self._dialog is not None and tag == "form":
            self._dialog["form"] = given
        elif self._dialog is not None and tag == "button":
            self._dialog["buttons"].append(given)

    def handle_endtag(self, tag):
        if tag == "dialog":
            self._dialog = None


@pytest.fixture
def sheets(client, project_id):
    def read(path):
        parser = Sheets()
        parser.feed(client.get(path.format(id=project_id)).text)
        return parser.found

    return {each["name"]: each for path in PAGES for each in read(path)}


def test_enter_does_what_a_sheet_is_for(sheets):
    assert len(sheets) > 9 and set(sheets) > SHOWING
    for name, sheet in sheets.items():
        if name in SHOWING:
            continue
        assert sheet["form"] and "@submit.prevent" in sheet["form"], name
        # In a form Enter presses the first button that is not declared to be a mere button.
        pressed = [each for each in sheet["buttons"] if each.get("type", "submit") == "submit"]
        assert len(pressed) == 1 and "main-action" in pressed[0]["class"], name
