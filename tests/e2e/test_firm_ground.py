"""What a person sees when something is missing, fails or is not sound, and how it is mended."""

import re

from playwright.sync_api import expect
from tests.build import layer, png, project
from tests.e2e.steps import open_desk, settle

from young_comet.core.timing import COMMON_RATES
from young_comet.store.database import Database
from young_comet.store.tables import ProjectRow

KITE = {"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 2}


def kite(asset):
    return {"id": "emblem", "name": "Emblem", "kind": "picture", "start_s": 0, "end_s": 2,
            "properties": {"picture.asset": {"value": asset}}}  # fmt: skip


def with_missing_picture(page, server, name):
    """A scene with a picture whose file has gone; gives the project's id and the file's bytes."""
    data = png(300, 200)
    project_id = open_desk(
        page,
        server,
        name,
        [{"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 2}],
        2,
    )
    url = f"{server.url}/api/projects/{project_id}"
    asset = page.request.post(f"{url}/assets?name=emblem.png", data=data).json()["asset"]
    (server.data / "assets" / asset["hash"][:2] / asset["hash"]).unlink()
    added = page.request.post(
        f"{url}/edits",
        data={"edit": {"kind": "add-layers", "scene": "desk", "layers": [kite(asset["id"])]}},
    )
    assert added.ok
    page.reload()
    settle(page)
    return project_id, data


def test_a_missing_file_is_named_on_the_stage_and_found_again(page, server, tmp_path):
    _, data = with_missing_picture(page, server, "Missing")
    chip = page.locator(".faults .chip")
    expect(chip).to_have_text("1 thing cannot be drawn")
    chip.click()
    expect(page.locator(".fault")).to_contain_text("Emblem: emblem.png")
    expect(page.locator(".fault")).to_contain_text("Its file is missing")
    page.locator(".fault").click()
    assert page.evaluate("[...youngComet.editor.selected]") == ["emblem"]
    page.get_by_role("tab", name="Assets").click()
    row = page.locator(".missing .missing-row")
    expect(row).to_contain_text("emblem.png")
    other, right = tmp_path / "bay.png", tmp_path / "found.png"
    other.write_bytes(png(40, 40))
    right.write_bytes(data)
    with page.expect_file_chooser() as chooser:
        row.get_by_role("button", name="Find it again").click()
    chooser.value.set_files(other)
    expect(page.locator(".toast-note.bad")).to_contain_text(
        "bay.png is another file than emblem.png"
    )
    with page.expect_file_chooser() as chooser:
        row.get_by_role("button", name="Find it again").click()
    chooser.value.set_files(right)
    expect(row).to_have_count(0)
    expect(chip).to_be_hidden()


def test_another_file_takes_the_place_of_a_missing_one(page, server, tmp_path):
    project_id, _ = with_missing_picture(page, server, "Another")
    page.goto(f"{server.url}/projects/{project_id}")
    other = tmp_path / "bay.png"
    other.write_bytes(png(40, 40))
    with page.expect_file_chooser() as chooser:
        page.locator(".missing-row").get_by_role("button", name="Find it again").click()
    chooser.value.set_files(other)
    page.get_by_role("button", name="Take it all the same").click()
    expect(page.locator(".missing-row")).to_have_count(0)
    page.get_by_role("button", name="Undo").first.click()
    expect(page.locator(".missing-row")).to_have_count(1)


def test_an_unsound_project_is_shown_exported_and_mended(page, server):
    broken = project(
        layer("kite", "shape"), layer("name", "text", text="Gullwing"), width=640, height=360
    )
    made = page.request.post(f"{server.url}/api/projects", data={"name": "Unsound"}).json()[
        "project"
    ]["id"]
    server.stop()
    database = Database(server.data / "young-comet.sqlite")
    text = broken.model_copy(update={"id": made, "name": "Unsound"}).model_dump_json()
    with database.session() as session:
        row = session.get(ProjectRow, made)
        row.document = text.replace('"kind":"shape"', '"kind":"cloud"')
    database.close()
    server.start()
    page.goto(f"{server.url}/projects/{made}/scenes/reveal")
    settle(page)
    banner = page.locator(".unsound")
    expect(banner).to_contain_text("can only be looked at until it is mended")
    banner.get_by_role("button", name="What mending changes (1)").click()
    expect(banner.locator("li")).to_contain_text("left out, as there is no kind 'cloud'")
    # What is there can be looked at, not changed.
    page.keyboard.press("Space")
    page.wait_for_timeout(300)
    page.keyboard.press("Space")
    page.evaluate("youngComet.editor.edit({ kind: 'rename-project', name: 'Changed' })")
    expect(page.locator(".toast-note.bad")).to_contain_text("until it is mended")
    with page.expect_download() as download:
        banner.get_by_role("link", name="Export as it is").click()
    assert download.value.suggested_filename == "unsound.zip"
    with page.expect_navigation():
        banner.get_by_role("button", name="Mend it").click()
    settle(page)
    expect(banner).to_be_hidden()
    assert page.evaluate("youngComet.editor.edit({ kind: 'rename-project', name: 'Mended' })")
    with page.expect_download() as download:
        page.request.get(f"{server.url}/api/projects/{made}/history")
        page.goto(f"{server.url}/projects/{made}")
        page.get_by_role("link", name="Export as zip").click()
    assert download.value.suggested_filename == "mended.zip"


def test_a_damaged_archive_is_imported_mended_on_demand(page, server, tmp_path):
    import io
    import json
    import zipfile

    from young_comet.edits.patch import plain

    document = plain(project(layer("kite", "shape")))
    document["id"], document["name"] = "torn", "Torn archive"
    document["scenes"][0]["layers"][0]["properties"]["opacity"] = {"value": 900}
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("project.json", json.dumps(document))
    path = tmp_path / "torn.zip"
    path.write_bytes(target.getvalue())
    page.goto(server.url)
    page.set_input_files("input[type=file]", path)
    page.get_by_role("button", name="Import and mend").click()
    page.wait_for_url("**/projects/*")
    expect(page.locator(".toast-note", has_text="Opacity: 900 became 100")).to_be_visible()
    expect(page.get_by_text("Torn archive", exact=True).first).to_be_visible()


def test_a_render_that_stops_at_a_gap_goes_on_when_told_to(page, server):
    with_missing_picture(page, server, "Gaps")
    page.get_by_role("button", name="Render", exact=True).click()
    page.locator("dialog[open] button.main-action").click()
    expect(page.locator("dialog[open]")).to_have_count(0)
    page.goto(f"{server.url}/renders")
    row = page.locator(".render-row").first
    # Two processes render, and either may come to the gap first.
    words = r"Frame \d+: emblem\.png of 'Emblem' cannot be drawn: its file is missing"
    expect(row.locator(".problem")).to_have_text(re.compile(words), timeout=90_000)
    row.get_by_role("button", name="Go on all the same").click()
    expect(row).to_have_attribute("data-status", "done", timeout=90_000)
    expect(row).to_contain_text("Marked as missing: emblem.png of 'Emblem'")
    render_id = row.get_attribute("data-render")
    row.get_by_role("button", name="Remove").click()
    row.get_by_role("button", name="Remove for good").click()
    expect(page.locator(f'[data-render="{render_id}"]')).to_have_count(0)


def test_moves_that_do_not_fit_are_not_offered(page, server):
    layers = [{"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 2},
              {"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 2}]  # fmt: skip
    open_desk(page, server, "Fits", layers, 2)
    page.get_by_role("tab", name="Moves").click()

    def offered(ids):
        page.evaluate("(ids) => youngComet.editor.select(ids)", ids)
        page.wait_for_timeout(200)
        return set(
            page.locator("[data-move-kind]").evaluate_all(
                "(all) => all.map((e) => e.dataset.moveKind)"
            )
        )

    both, backdrop, shape = offered(["sky", "kite"]), offered(["sky"]), offered(["kite"])
    assert backdrop < shape and both == backdrop & shape and backdrop


def test_the_page_counts_frames_as_the_core_does(page, server):
    open_desk(page, server, "Count", [KITE], 2)
    lengths = [*range(1, 121), 0.04, 0.5, 1.001, 3599, 3600]
    for rate in COMMON_RATES:
        found = page.evaluate(
            """([rate, lengths]) => {
              const { editor } = youngComet;
              return lengths.map((length) => {
                Object.assign(editor.scene, { rate, length_s: length });
                return editor.frameCount;
              });
            }""",
            [{"num": rate.num, "den": rate.den}, lengths],
        )
        assert found == [rate.frame_count(length) for length in lengths], rate.label


def test_a_loop_keeps_its_pace_over_many_rounds(page, server):
    open_desk(
        page,
        server,
        "Rounds",
        [{"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 1}],
        0.52,
    )
    drift = page.evaluate(
        """async () => {
          const { player, editor } = youngComet;
          await player.play();
          const begun = player.startTime, first = player.startFrame, frames = editor.frameCount;
          await new Promise((resolve) => setTimeout(resolve, 4000));
          // Where the clock's start lies now, in whole rounds since it was started.
          const rounds = ((player.startTime - begun) / 1000) * 25 + first - player.startFrame;
          player.pause();
          return [rounds / frames, Math.abs(rounds / frames - Math.round(rounds / frames))];
        }"""
    )
    assert drift[0] > 5 and drift[1] < 1e-6


def test_a_scene_longer_than_a_stretch_is_filled_to_its_end(page, server):
    open_desk(
        page,
        server,
        "Long",
        [{"id": "kite", "name": "Kite", "kind": "shape", "start_s": 0, "end_s": 70}],
        70,
    )
    page.evaluate("youngComet.editor.setHeight(360)")
    page.wait_for_function(
        "() => youngComet.player.signatures.filter(Boolean).length >= 1750", timeout=60_000
    )


TITLE = {"id": "title", "name": "Title", "kind": "text", "start_s": 0, "end_s": 2,
         "properties": {"text": {"value": "Kites at noon"}}}  # fmt: skip


def front_on(page, server, name):
    open_desk(page, server, name, [TITLE], 2)
    page.locator('.row-line[data-layer="title"] .row-name').click()
    page.get_by_label("Add a front").click()
    page.locator("[data-ready-front=lifted]").click()
    page.locator("#fronts .front-name").wait_for()
    page.evaluate("youngComet.editor.modes.hands.player.pause()")
    settle(page)
    return page.locator("#fronts .front-name")


def test_what_is_typed_stays_when_something_else_is_answered(page, server):
    """An answer between two letters takes none of them away; what is left alone is shown anew."""
    name = front_on(page, server, "Typed")
    rename = """(name) => youngComet.editor.edit({kind: "change-member", family: "front",
        scene: youngComet.editor.sceneId, layer: "title",
        member: youngComet.editor.layer("title").fronts[0].id, set: {name}})"""
    name.click()
    name.fill("Gust")
    page.evaluate(rename, "Squall")
    settle(page)
    expect(name).to_have_value("Gust")
    name.press("Enter")
    settle(page)
    assert page.evaluate("youngComet.editor.layer('title').fronts[0].name") == "Gust"
    # Nothing is typed now: what others do is shown, also where the field has the focus.
    page.evaluate(rename, "Breeze")
    expect(name).to_have_value("Breeze")


def test_what_is_typed_is_for_what_was_selected_when_it_was_typed(page, server):
    """A number and a colour confirmed by a press that selects another layer."""
    sail = {"id": "sail", "name": "Sail", "kind": "text", "start_s": 0, "end_s": 2,
            "properties": {"text": {"value": "Sail"}}}  # fmt: skip
    open_desk(page, server, "For whom", [TITLE, sail], 2)
    row = page.locator('.row-line[data-layer="title"] .row-name')
    for field, text, wanted in (
        ("rotation", "30", 30), ("fill.colour", "#2f9fb3", "#2f9fb3"),
    ):  # fmt: skip
        row.click()
        page.locator(f'.prop[data-property="{field}"] input.field').first.evaluate(
            """(input, text) => { input.focus(); input.value = text;
                for (const name of ["input", "change"])
                    input.dispatchEvent(new Event(name, { bubbles: true }));
                youngComet.editor.select(["sail"]); }""",
            text,
        )
        settle(page)
        value = f"(id) => youngComet.editor.layer(id).properties['{field}']?.value"
        assert page.evaluate(value, "title") == wanted
        assert page.evaluate(value, "sail") is None


def test_a_colour_typed_is_kept_where_the_picker_closes_before_the_answer(page, server):
    open_desk(page, server, "Late colour", [TITLE], 2)
    page.locator('.row-line[data-layer="title"] .row-name').click()
    page.locator('.prop[data-property="fill.colour"] .swatch').first.click()
    typed = page.locator("#picker").get_by_label("Colour as text")
    typed.wait_for()
    # Typed, confirmed and closed at once: whatever is answered is answered later.
    typed.evaluate(
        """(field) => { field.value = "#2f9fb3";
            for (const name of ["input", "change"]) field.dispatchEvent(new Event(name, { bubbles: true }));
            document.querySelector("#picker [aria-label=Close]").click(); }"""
    )
    expect(page.locator("#picker")).to_be_hidden()
    fill = "() => youngComet.editor.layer('title').properties['fill.colour']?.value"
    page.wait_for_function(f"{fill} === '#2f9fb3'")
    # A press elsewhere ends the typing, too; Escape takes it back.
    swatch = page.locator('.prop[data-property="fill.colour"] .swatch').first
    swatch.click()
    typed.fill("#ffb44a")
    page.locator("#time-field").click()
    page.wait_for_function(f"{fill} === '#ffb44a'")
    swatch.click()
    typed.fill("#101010")
    page.keyboard.press("Escape")
    expect(page.locator("#picker")).to_be_hidden()
    settle(page)
    assert page.evaluate(f"({fill})()") == "#ffb44a"
