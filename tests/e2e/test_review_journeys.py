"""A page for review as a client uses it: frame by frame, notes, and back to marks of the scene."""

from __future__ import annotations

import json

import pytest
from playwright.sync_api import expect
from tests.e2e.steps import OneStep, open_desk, settle

# A box that is 20 px further to the right in each of 25 frames.
LAYERS = [
    {"id": "box", "name": "Box", "kind": "shape", "start_s": 0, "end_s": 1, "properties": {
        "shape.size": {"value": [40, 400]}, "fill.colour": {"value": "#ffffff"},
        "position": {"keys": [
            {"id": "a", "time_s": 0, "value": [100, 360], "easing": "linear"},
            {"id": "b", "time_s": 1, "value": [1100, 360], "easing": "linear"},
        ]}}},
]  # fmt: skip
WHERE = """() => {
    const canvas = document.createElement('canvas');
    canvas.width = film.videoWidth; canvas.height = 1;
    const context = canvas.getContext('2d');
    context.drawImage(film, 0, film.videoHeight / 2, canvas.width, 1, 0, 0, canvas.width, 1);
    const { data } = context.getImageData(0, 0, canvas.width, 1);
    let sum = 0, weight = 0;
    for (let x = 0; x < canvas.width; x += 1) { sum += x * data[4 * x]; weight += data[4 * x]; }
    return sum / weight;
}"""


@pytest.fixture
def review(page, server, tmp_path):
    """A page for review of such a film, rendered and opened from a file, as a client has it."""
    page.project = open_desk(page, server, "Review", LAYERS, 1.0)
    body = {
        "project": page.project, "scene": "desk",
        "settings": {"format": "review", "scale": 0.5, "from_s": 0.2, "quality": "draft",
                     "name": "{project}-{scene}"},
    }  # fmt: skip
    started = page.request.post(f"{server.url}/api/renders", data=body).json()
    page.goto(f"{server.url}/renders")
    row = page.locator(f'.render-row[data-render="{started["id"]}"]')
    expect(row).to_have_attribute("data-status", "done", timeout=90_000)
    expect(row.locator("img.poster")).to_be_visible()
    with page.expect_download() as download:
        row.get_by_role("link", name="Download").click()
    assert download.value.suggested_filename == "review-desk.html"
    target = tmp_path / "review-desk.html"
    download.value.save_as(target)
    opened = page.context.new_page()
    opened.goto(target.as_uri())
    opened.wait_for_function("() => film.readyState >= 2")
    yield page, opened
    opened.close()


def at(opened, number):
    """Until a frame is shown; where the box is in it."""
    opened.wait_for_function(
        f"() => frame === {number} && !film.seeking && Math.abs(film.currentTime * 25 - {number} - 0.5) < 0.01"
    )
    opened.wait_for_timeout(120)
    return opened.evaluate(WHERE)


def test_a_client_steps_frame_by_frame_and_notes_come_back_as_marks(review, server, tmp_path):
    page, opened = review
    # The film begins at 0.2 s, where the box is in its sixth place; half the size.
    for number in range(1, 8):
        opened.keyboard.press("ArrowRight")
        assert at(opened, number) == pytest.approx((100 + 40 * (5 + number)) / 2, abs=2)
    opened.locator("#text").fill("The box is too white here")
    opened.keyboard.press("Control+Enter")
    opened.locator("#bar").focus()
    opened.keyboard.press("End")
    assert at(opened, 19) == pytest.approx((100 + 40 * 24) / 2, abs=2)
    opened.locator("#text").fill("Stay <b>longer</b>")
    opened.get_by_role("button", name="Add the note").click()
    opened.get_by_label("Your name").fill("Mara")
    expect(opened.locator("#notes li")).to_have_count(2)
    expect(opened.locator("#notes")).to_contain_text("Stay <b>longer</b>")
    expect(opened.locator(".pin")).to_have_count(2)
    # Notes are still there when the page is opened again.
    opened.reload()
    expect(opened.locator("#notes li")).to_have_count(2)
    opened.locator("#notes .at").first.click()
    at(opened, 7)
    with opened.expect_download() as download:
        opened.get_by_role("button", name="Save the notes").click()
    notes = tmp_path / download.value.suggested_filename
    assert notes.name == "desk.notes.json"
    download.value.save_as(notes)
    told = json.loads(notes.read_text())
    assert [each["at_s"] for each in told["notes"]] == [0.48, 0.96]

    page.goto(f"{server.url}/projects/{page.project}/scenes/desk")
    settle(page)
    page.get_by_role("tab", name="Timing").click()
    with OneStep(page):
        page.get_by_label("A file of notes").set_input_files(notes)
        page.wait_for_function("() => youngComet.editor.scene.marks.length === 2")
    page.get_by_label("A file of notes").set_input_files(notes)
    expect(page.locator(".toast-note.bad")).to_contain_text("there already")
    marks = page.evaluate("() => youngComet.editor.scene.marks")
    assert [(m["time_s"], m["note"]) for m in marks] == [
        (0.48, "Mara: The box is too white here"), (0.96, "Mara: Stay <b>longer</b>"),
    ]  # fmt: skip
    expect(page.locator(".pennant.noted")).to_have_count(2)
    said = page.get_by_label("Note at The box is too white here")
    expect(said).to_have_value("Mara: The box is too white here")
    with OneStep(page):
        said.fill("Done: a warmer white")
        said.press("Tab")
        page.wait_for_function("() => youngComet.editor.scene.marks[0].note.startsWith('Done')")
    wrong = tmp_path / "wrong.json"
    wrong.write_text("no notes")
    page.get_by_label("A file of notes").set_input_files(wrong)
    expect(page.locator(".toast-note.bad").last).to_contain_text("wrong.json holds no notes")


def test_it_plays_and_follows(review):
    _, opened = review
    # Again and again, so that it has not ended where a busy machine is late to pause it.
    opened.locator("#loop").click()
    opened.get_by_role("button", name="Play").click()
    opened.wait_for_function("() => frame >= 10")
    opened.keyboard.press(" ")
    opened.wait_for_function("() => film.paused && !film.seeking")
    number = opened.evaluate("() => frame")
    assert at(opened, number) == pytest.approx((100 + 40 * (5 + number)) / 2, abs=2)
