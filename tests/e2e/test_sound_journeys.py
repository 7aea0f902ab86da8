"""Sound in the editor: uploaded, drawn, dragged, heard in step, rendered."""

from __future__ import annotations

import numpy as np
import pytest
from playwright.sync_api import expect
from tests.core.media.test_sound import float_wav
from tests.e2e.steps import OneStep, open_desk, settle
from tests.sounds import noise

pytestmark = pytest.mark.xdist_group("browser-1")

LAYERS = [
    {"id": "sky", "name": "Sky", "kind": "backdrop", "start_s": 0, "end_s": 3,
     "properties": {"fill.kind": {"value": "linear"}}},
]  # fmt: skip


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    """Sound may begin without a press."""
    arguments = [*browser_type_launch_args["args"], "--autoplay-policy=no-user-gesture-required"]
    return {**browser_type_launch_args, "args": arguments}


@pytest.fixture
def desk(page, server):
    """A backdrop, and a bed of wind that has been uploaded and placed."""
    page.project = open_desk(page, server, "Sound", LAYERS, 3.0)
    wind = noise(2.0) * np.linspace(0.1, 1, 96_000, dtype=np.float32)[:, None]
    file = {"name": "Wind.wav", "mimeType": "audio/wav", "buffer": float_wav(wind)}
    page.set_input_files("#file-input", file)
    page.wait_for_function("() => youngComet.editor.project.assets.length === 1")
    tab_of_assets(page)
    settle(page)
    return page


def tab_of_assets(page):
    page.get_by_role("tab", name="Assets").click()
    page.locator(".asset, [data-asset]").first.wait_for()


def sound(page):
    return page.evaluate("() => youngComet.editor.layers.find((layer) => layer.kind === 'sound')")


def place(page, frame=0):
    page.evaluate(f"() => youngComet.editor.goTo({frame})")
    page.get_by_title("Let Wind.wav be heard from the playhead on").click()
    page.wait_for_function("() => youngComet.editor.layers.some((layer) => layer.kind === 'sound')")
    page.wait_for_function("() => document.querySelector('.row-line .wave')")
    settle(page)


def test_a_sound_is_placed_at_the_playhead_and_drawn(desk):
    place(desk, 10)
    layer = sound(desk)
    assert (layer["start_s"], layer["end_s"]) == (0.4, 2.4) and layer["name"] == "Wind"
    row = desk.locator(f'.row-line[data-layer="{layer["id"]}"]')
    expect(row.locator(".gain-note")).to_have_text("0 dB")
    bar = row.locator(".bar").bounding_box()
    wave = row.locator(".wave").bounding_box()
    assert abs(bar["x"] - wave["x"]) < 3 and abs(bar["width"] - wave["width"]) < 6
    assert wave["height"] > bar["height"] * 0.3
    expect(desk.locator(".listening")).to_be_visible()


def drag(page, locator, dx, dy):
    box = locator.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(1, 7):
        page.mouse.move(x + dx * step / 6, y + dy * step / 6)
        page.wait_for_timeout(20)
    page.mouse.up()
    settle(page)


def test_gain_and_fades_are_dragged_on_the_bar(desk):
    place(desk)
    row = desk.locator(f'.row-line[data-layer="{sound(desk)["id"]}"]')
    with OneStep(desk):
        drag(desk, row.locator(".gain-grip"), 0, 5)
        gain = sound(desk)["properties"]["sound.gain"]["value"]
        assert -13 < gain < -5 and gain * 2 == round(gain * 2)
    with OneStep(desk):
        drag(desk, row.locator('[data-bar="fade-in"]'), 120, 4)
        fade = sound(desk)["properties"]["sound.fade-in"]["value"]
        assert 0.2 < fade < 0.6 and abs(fade * 25 - round(fade * 25)) < 0.03
    with OneStep(desk):
        drag(desk, row.locator('[data-bar="fade-out"]'), -120, 4)
        assert 0.2 < sound(desk)["properties"]["sound.fade-out"]["value"] < 0.6


def test_the_line_of_a_keyed_gain_is_dragged_by_its_keys(desk):
    place(desk)
    id = sound(desk)["id"]
    gain = {"layer": id, "property": "sound.gain"}
    first = {"kind": "set-keys", "scene": "desk", "time_s": 0.2, "targets": [gain]}
    desk.evaluate("(edit) => youngComet.editor.edit(edit)", first)
    for at_s, value in ((0.8, -12.0), (1.6, 0.0)):
        edit = {
            "kind": "set-values",
            "scene": "desk",
            "time_s": at_s,
            "targets": [gain | {"value": value}],
        }
        desk.evaluate("(edit) => youngComet.editor.edit(edit)", edit)
    settle(desk)
    row = desk.locator(f'.row-line[data-layer="{id}"]')
    desk.wait_for_timeout(400)
    across = row.locator(".bar").bounding_box()
    place_of = "(at) => youngComet.timeline.x(at) - youngComet.timeline.x(0)"

    def drawn():
        """Points (x, y) of the line from the bar's start on."""
        data = row.locator(".gain-line").get_attribute("d")[1:]
        found = np.array([[float(v) for v in each.split()] for each in data.split("L")])
        return found - [found[0, 0], 0]

    def values():
        return [key["value"] for key in sound(desk)["properties"]["sound.gain"]["keys"]]

    def pull(at, dy):
        line = drawn()
        x = desk.evaluate(place_of, at)
        y = float(np.interp(x, line[:, 0], line[:, 1]))
        top = row.locator("svg:has(.gain-line)").bounding_box()["y"]
        desk.mouse.move(across["x"] + x, top + y)
        desk.mouse.down()
        for part in (0.4, 0.8, 1.0):
            desk.mouse.move(across["x"] + x, top + y + dy * part)
        desk.mouse.up()
        settle(desk)

    with OneStep(desk):
        pull(0.8, 4)  # the key in the middle alone
        first = values()
        assert first[0] == first[2] == 0 and first[1] < -15
    with OneStep(desk):
        pull(1.2, 4)  # both ends of the second stretch
        second = values()
        assert second[0] == 0 and second[1] < first[1] - 3 and second[2] < -3
        assert second[1] - first[1] == pytest.approx(second[2])


def test_a_bar_is_slid_with_its_sound_and_silenced(desk):
    place(desk)
    id = sound(desk)["id"]
    row = desk.locator(f'.row-line[data-layer="{id}"]')
    box = row.locator(".bar").bounding_box()
    with OneStep(desk):
        desk.mouse.move(box["x"] + 150, box["y"] + box["height"] - 4)
        desk.mouse.down()
        for step in range(1, 9):
            desk.mouse.move(box["x"] + 150 + 12 * step, box["y"] + box["height"] - 4)
        desk.mouse.up()
        settle(desk)
        assert sound(desk)["start_s"] > 0.1
    row.get_by_role("button", name="Silence Wind").click()
    desk.wait_for_function("() => !youngComet.player.sounding.heard")
    expect(desk.locator(".listening")).to_be_hidden()


WATCH = """() => {
  window.apart = [];
  const { player, editor } = youngComet;
  const present = player.present.bind(player);
  player.present = (frame) => {
    const { sounding } = player;
    if (!sounding.run) return;
    const [start, end] = editor.range;
    const fps = editor.rate.num / editor.rate.den;
    const heard = (sounding.run.frame - start + sounding.seconds * fps) % (end - start);
    let by = frame - start - Math.floor(heard);
    if (Math.abs(by) > (end - start) / 2) by -= Math.sign(by) * (end - start);
    window.apart.push(by);
    present(frame);
  };
}"""


def test_pictures_follow_the_sound_over_many_rounds(desk):
    place(desk)
    desk.wait_for_function("() => document.getElementById('filmstrip').dataset.ready === '1.000'")
    desk.evaluate(WATCH)
    desk.keyboard.press("Space")
    desk.wait_for_function("() => youngComet.player.sounding.run?.round >= 3", timeout=30_000)
    level = desk.evaluate("""() => {
      const samples = new Float32Array(2048);
      youngComet.player.sounding.meters[0].getFloatTimeDomainData(samples);
      return Math.max(...samples);
    }""")
    state = desk.evaluate("() => youngComet.player.sounding.context.state")
    desk.keyboard.press("Space")
    apart = desk.evaluate("() => window.apart")
    assert state == "running" and 0 <= level <= 1
    # A busy machine may hold the page up now and then; nothing adds up.
    near = [abs(each) <= 1 for each in apart]
    assert len(apart) > 100 and sum(near) >= 0.95 * len(near) and all(near[-3:])
    assert desk.evaluate("() => youngComet.player.sounding.sources.size") == 0


def test_without_sound_pictures_keep_their_own_clock(desk):
    desk.wait_for_function("() => document.getElementById('filmstrip').dataset.ready === '1.000'")
    desk.keyboard.press("Space")
    desk.wait_for_timeout(1200)
    assert desk.evaluate("() => youngComet.editor.frame") > 10
    assert desk.evaluate("() => youngComet.player.sounding.context") is None
    desk.keyboard.press("Space")


def test_the_render_sheet_offers_sound_where_something_is_heard(desk):
    desk.get_by_role("button", name="Render", exact=True).click()
    sheet = desk.locator("dialog[open]")
    expect(sheet.get_by_role("radio", name="Sound alone", exact=False)).to_have_count(0)
    desk.keyboard.press("Escape")
    place(desk)
    desk.get_by_role("button", name="Render", exact=True).click()
    sheet.get_by_role("radio", name="Sound alone WAV").click()
    expect(sheet.get_by_text("3 s, stereo, 48 kHz, 24 bits")).to_be_visible()
    expect(sheet.get_by_label("Size", exact=True)).to_be_hidden()
    sheet.get_by_role("button", name="Render", exact=True).click()
    assert rendered(desk, "wav")["total"] == 75


def rendered(page, format):
    """The last render of a format, when it is done."""
    base = page.url.split("/projects")[0]
    for _ in range(300):
        found = [
            each for each in page.request.get(f"{base}/api/renders").json()
            if each["settings"]["format"] == format
        ]  # fmt: skip
        if found and found[0]["status"] not in ("waiting", "running"):
            assert found[0]["status"] == "done", found[0]["message"]
            return found[0]
        page.wait_for_timeout(200)
    raise AssertionError("it was not rendered in a minute")


def test_the_sheet_asks_what_a_file_is_for(desk):
    desk.get_by_role("button", name="Render", exact=True).click()
    sheet = desk.locator("dialog[open]")
    clear = sheet.locator(".form-row", has_text="Ground").get_by_role("checkbox")
    expect(clear).to_be_hidden()  # an MP4 cannot be seen through
    sheet.get_by_role("radio", name="To lay over footage").click()
    expect(clear).to_be_checked()
    expect(sheet.get_by_label("Quality")).to_be_hidden()
    sheet.get_by_label("To", exact=True).fill("0.4s")
    sheet.get_by_label("Size", exact=True).select_option("0.25")
    expect(sheet.get_by_text("320 \u00d7 180, 10 frames")).to_be_visible()
    sheet.get_by_role("button", name="Render", exact=True).click()
    render = rendered(desk, "mov")
    assert (render["width"], render["height"], render["total"]) == (320, 180, 10)
    file = desk.request.get(desk.url.split("/projects")[0] + render["file_url"])
    assert file.headers["content-type"] == "video/quicktime" and file.body()[8:12] == b"qt  "


def test_several_files_of_one_render_and_their_loudness(desk):
    place(desk)
    desk.get_by_role("button", name="Render", exact=True).click()
    sheet = desk.locator("dialog[open]")
    sheet.get_by_role("radio", name="In a message").click()
    expect(sheet.get_by_text("A GIF has 255 colours")).to_be_visible()
    expect(sheet.get_by_label("Loudness")).to_be_hidden()  # a GIF has no sound
    expect(sheet.get_by_role("button", name="Make PNG as well")).to_be_hidden()  # a single frame
    sheet.get_by_role("button", name="Make MP4, H.264 as well").click()
    sheet.get_by_role("button", name="Make WAV, 24 bits as well").click()
    sheet.get_by_label("Loudness").select_option("-23")
    sheet.get_by_role("button", name="Measure").click()
    expect(sheet.get_by_role("status")).to_contain_text("LUFS")
    sheet.get_by_label("Which frames").select_option("4")
    sheet.get_by_label("Size", exact=True).select_option("0.25")
    expect(sheet.get_by_text("320 \u00d7 180, 19 frames")).to_be_visible()
    sheet.get_by_role("button", name="Render", exact=True).click()
    render = rendered(desk, "gif")
    assert [each["id"] for each in render["files"]] == ["gif", "mp4", "wav"]
    assert "Loudness -23.0 LUFS" in render["message"]
    base = desk.url.split("/projects")[0]
    kinds = ("image/gif", "video/mp4", "audio/wav")
    for file, kind in zip(render["files"], kinds, strict=True):
        answer = desk.request.get(base + file["url"])
        assert answer.headers["content-type"] == kind and len(answer.body()) > 1000
    desk.goto(f"{base}/renders")
    row = desk.locator(f'[data-render="{render["id"]}"]')
    expect(row.get_by_role("link", name="MP4")).to_be_visible()
    # The browser plays what it can: the GIF is there, and as wide as it was made.
    desk.wait_for_function(
        '(id) => document.querySelector(`[data-render="${id}"] img`)?.naturalWidth === 320',
        arg=render["id"],
    )
    row.get_by_role("button", name="Remove").click()
    row.get_by_role("button", name="Remove for good").click()
    expect(row).to_have_count(0)
    assert desk.request.get(base + render["files"][1]["url"]).status == 404


def test_a_choice_is_kept_as_a_preset(desk):
    desk.get_by_role("button", name="Render", exact=True).click()
    sheet = desk.locator("dialog[open]")
    sheet.get_by_role("radio", name="On a page WebP").click()
    sheet.get_by_label("Size", exact=True).select_option("0.25")
    sheet.get_by_label("Which frames").select_option("3")
    sheet.get_by_role("button", name="Keep what is chosen").click()
    sheet.get_by_label("Name of the preset").fill("For the stand")
    sheet.get_by_role("button", name="Keep under this name").click()
    desk.wait_for_function("() => youngComet.editor.project.presets.length === 1")
    expect(sheet.get_by_label("Preset", exact=True)).to_have_value(
        desk.evaluate("() => youngComet.editor.project.presets[0].id")
    )
    sheet.get_by_role("radio", name="Web and players").click()
    sheet.get_by_label("Size", exact=True).select_option("1")
    sheet.get_by_label("Preset", exact=True).select_option("")
    sheet.get_by_label("Preset", exact=True).select_option(label="For the stand")
    expect(sheet.get_by_text("320 \u00d7 180, 25 frames")).to_be_visible()
    expect(sheet.get_by_role("radio", name="On a page WebP")).to_be_checked()
    sheet.get_by_role("button", name="Forget this preset").click()
    expect(sheet.get_by_label("Preset", exact=True)).to_be_hidden()


def test_only_the_selected_layers_are_rendered(desk):
    first = desk.locator(".row-head").first
    first.click()
    desk.get_by_role("button", name="Render", exact=True).click()
    sheet = desk.locator("dialog[open]")
    sheet.get_by_role("radio", name="This frame PNG").click()
    sheet.locator(".form-row", has_text="Layers").get_by_role("checkbox").check()
    sheet.get_by_role("button", name="Render", exact=True).click()
    render = rendered(desk, "png")
    assert len(render["settings"]["layers"]) == 1


def test_escape_gives_up_a_drag_of_the_gain(desk):
    place(desk)
    row = desk.locator(f'.row-line[data-layer="{sound(desk)["id"]}"]')
    before = row.locator(".gain-line").get_attribute("d")
    box = row.locator(".gain-grip").bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    desk.mouse.move(x, y)
    desk.mouse.down()
    desk.mouse.move(x, y + 8, steps=4)
    desk.wait_for_function(
        "(before) => document.querySelector('.gain-line').getAttribute('d') !== before", arg=before
    )
    desk.keyboard.press("Escape")
    desk.mouse.up()
    settle(desk)
    assert row.locator(".gain-line").get_attribute("d") == before
    assert "sound.gain" not in sound(desk)["properties"]


def test_play_pressed_three_times_plays_once(desk):
    place(desk)
    desk.wait_for_function("() => document.getElementById('filmstrip').dataset.ready === '1.000'")
    desk.evaluate("""() => {
      const { player } = youngComet;
      window.ticks = window.turns = 0;
      const tick = player.tick.bind(player);
      player.tick = () => { window.ticks += 1; tick(); };
      const turn = () => { window.turns += 1; requestAnimationFrame(turn); };
      requestAnimationFrame(turn);
      player.toggle();
      player.toggle();
      player.toggle();
    }""")
    desk.wait_for_timeout(1500)
    ticks, turns = desk.evaluate("() => [window.ticks, window.turns]")
    assert 0 < ticks <= turns + 1
    desk.evaluate("() => youngComet.player.pause()")
    assert desk.evaluate("() => youngComet.player.sounding.run") is None


def beats(page):
    """The beats that the page knows of the music: moments in the scene."""
    return page.evaluate(
        "() => Object.values(youngComet.editor.beats)[0]?.beats.map((beat) => beat.at_s) ?? []"
    )


@pytest.fixture
def music(desk):
    """Drums of a sound whose beats are told by an edit: each 0.4 s from 0.1 s on."""
    place(desk)
    asset = desk.evaluate("() => youngComet.editor.project.assets[0].id")
    times = [0.1, 0.5, 0.9, 1.3, 1.7]
    edit = {"kind": "set-beats", "asset": asset, "beats": {"tempo": 150, "times": times}}
    desk.evaluate("(edit) => youngComet.editor.edit(edit)", edit)
    desk.wait_for_function("() => document.querySelectorAll('.ruler .beat').length === 5")
    desk.get_by_role("tab", name="Timing").click()
    desk.panel = desk.locator("[x-data=beatsPanel]")
    return desk


def test_beats_on_the_ruler_are_dragged_marked_and_counted(music):
    expect(music.panel).to_contain_text("150 a minute")
    step = OneStep(music)
    with step:
        drag(music, music.locator('.ruler [data-beat="1"]'), 12, 0)
    moved = beats(music)
    by = moved[1] - 0.5
    assert 0.01 < by < 0.4 and np.allclose(np.diff(moved), 0.4, atol=1e-3)
    with step:
        music.panel.get_by_role("button", name="× 2").click()
        music.wait_for_function("() => document.querySelectorAll('.ruler .beat').length === 9")
    with step:
        music.panel.get_by_role("button", name="strong beats").click()
        music.wait_for_function("() => youngComet.editor.scene.marks.length >= 2")
    marks = music.evaluate("() => youngComet.editor.scene.marks.map((mark) => mark.time_s)")
    assert np.allclose(np.diff(marks), 0.8, atol=0.041)
    expect(music.locator(".pennant").first).to_contain_text("1.1")
    music.panel.get_by_role("button", name="Forget the beats").click()
    expect(music.panel).to_contain_text("Not found yet")
    expect(music.locator(".ruler .beat")).to_have_count(0)


def test_taps_while_it_plays_become_beats(page, server):
    open_desk(page, server, "Taps", LAYERS, 20.0)
    file = {"name": "Wind.wav", "mimeType": "audio/wav", "buffer": float_wav(noise(20.0))}
    page.set_input_files("#file-input", file)
    page.wait_for_function("() => youngComet.editor.project.assets.length === 1")
    tab_of_assets(page)
    place(page)
    page.get_by_role("tab", name="Timing").click()
    panel = page.locator("[x-data=beatsPanel]")
    expect(panel).to_contain_text("Not found yet")
    page.keyboard.press("Space")
    page.wait_for_function("() => youngComet.editor.player.moment > 0.2")
    tap = panel.get_by_role("button", name="Tap")
    for _ in range(5):
        page.wait_for_timeout(350)
        tap.click()
    tapped = page.evaluate("() => youngComet.editor.player.moment")
    assert tapped > 0.2 + 5 * 0.35
    page.wait_for_function("() => youngComet.editor.project.assets[0].beats", timeout=30_000)
    page.keyboard.press("Space")
    beats = page.evaluate("() => youngComet.editor.project.assets[0].beats")
    assert 30 < beats["tempo"] < 60 / 0.34
    assert np.allclose(np.diff(beats["times"]), 60 / beats["tempo"], atol=1e-3)
    assert beats["times"][-1] > 17  # over the whole sound, not only where it was tapped


def test_a_layer_is_dragged_onto_a_beat(music):
    sky = music.locator('.row-line[data-layer="sky"] .bar')
    box = sky.bounding_box()
    music.mouse.move(box["x"] + 200, box["y"] + box["height"] / 2)
    music.mouse.down()
    second = music.evaluate("() => youngComet.timeline?.x(1) - youngComet.timeline?.x(0)")
    second = second or box["width"] / 3
    for part in (0.3, 0.6, 0.9, 0.97, 0.97):
        music.mouse.move(box["x"] + 200 + 0.5 * second * part, box["y"] + box["height"] / 2)
    music.mouse.up()
    settle(music)
    start = music.evaluate("() => youngComet.editor.layer('sky').start_s")
    assert start == pytest.approx(0.5, abs=0.021)  # on the frame that is nearest to the beat
