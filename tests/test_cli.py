import io
import json
import os
import subprocess
import sys
from contextlib import ExitStack, redirect_stderr, redirect_stdout
from pathlib import Path
from types import SimpleNamespace
from unittest import mock

import av
import cv2
import numpy as np
import pytest
from PIL import Image
from typer.testing import CliRunner

from young_comet import cli, cli_kit, cli_typefaces
from young_comet.cli import app, main
from young_comet.config import Config
from young_comet.core.typography.shipped import SHIPPED
from young_comet.demo import DEMO_ID, ensure_demo
from young_comet.edits import parse_edit
from young_comet.store import DataFolder

ROOT = Path(__file__).parent.parent


def run(data: Path, *words: str):
    """A command in this process: what starting the program anew costs is tried by ``run_anew``."""
    out, errors, code = io.StringIO(), io.StringIO(), 0
    with ExitStack() as stack:
        for console in (cli.out, cli.err, cli_kit.out, cli_typefaces.out):
            stack.enter_context(mock.patch.object(console, "_width", 160))
        stack.enter_context(mock.patch.dict(os.environ, {"YOUNG_COMET_DATA": str(data)}))
        stack.enter_context(mock.patch.object(sys, "argv", ["young-comet", *words]))
        stack.enter_context(redirect_stdout(out))
        stack.enter_context(redirect_stderr(errors))
        try:
            main()
        except SystemExit as ended:
            code = ended.code or 0
    return SimpleNamespace(returncode=code, stdout=out.getvalue(), stderr=errors.getvalue())


def run_anew(data: Path, *words: str):
    command = [sys.executable, "-m", "young_comet.cli", *words]
    environment = {**os.environ, "YOUNG_COMET_DATA": str(data), "COLUMNS": "160"}
    return subprocess.run(command, capture_output=True, text=True, env=environment, timeout=240)


@pytest.fixture(scope="module")
def data(tmp_path_factory):
    return tmp_path_factory.mktemp("cli") / "data"


def test_every_command_explains_itself(data):
    runner = CliRunner()
    said = run_anew(data, "--help").stdout
    for command in (
        "serve", "projects", "render", "frame", "notes", "export-project", "import-project",
    ):  # fmt: skip
        help_ = runner.invoke(app, [command, "--help"])
        assert help_.exit_code == 0 and "Usage" in help_.stdout
        assert command in said


def test_a_rendered_video_shows_the_frames_that_frame_writes(data, tmp_path):
    video, still = tmp_path / "reveal.mp4", tmp_path / "f.png"
    done = run_anew(data, "render", "demo:kite-week", "Logo reveal", "--out", str(video), "--from", "1",
                    "--to", "2.2s", "--scale", "0.5", "--quality", "best")  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert "960 x 540, 30 frames" in done.stdout
    with av.open(str(video)) as opened:
        stream = opened.streams.video[0]
        assert (stream.width, stream.height, stream.average_rate) == (960, 540, 25)
        planes = [frame.to_ndarray(format="yuv420p") for frame in opened.decode(stream)]
    assert len(planes) == 30
    for number, moment in ((0, "1"), (12, "37f"), (29, "00:02:04")):
        shown = run(data, "frame", "demo:kite-week", "logo reveal", "--at", moment, "--scale", "0.5",
                    "--out", str(still))  # fmt: skip
        assert shown.returncode == 0, shown.stderr
        bgr = cv2.imread(str(still)).astype(float)
        luma = 16 + (bgr @ [0.0722, 0.7152, 0.2126]) * 219 / 255
        assert np.abs(planes[number][:540] - luma).mean() < 1.5


def test_projects_travel_as_zips(data, tmp_path):
    archive = tmp_path / "kites.zip"
    assert run(data, "export-project", "demo:kite-week", "--out", str(archive)).returncode == 0
    assert archive.stat().st_size > 1000
    imported = run(tmp_path / "elsewhere", "import-project", str(archive))
    assert "Imported 'Gullwing Bay Kite Week' as kite-week" in imported.stdout
    again = run(tmp_path / "elsewhere", "import-project", str(archive))
    assert again.returncode == 0 and "as kite-week" not in again.stdout
    listed = run(tmp_path / "elsewhere", "projects").stdout
    assert listed.count("Gullwing Bay Kite Week") == 2 and "Lower third" in listed


@pytest.mark.parametrize(
    ("words", "text"),
    [
        (("render", "nowhere", "x", "--out", "a.mp4"), "there is no project 'nowhere'"),
        (("render", "demo:kite-week", "Opera", "--out", "a.mp4"), "'Logo reveal', 'Lower third'"),
        (("render", "demo:kite-week", "Logo reveal", "--out", "a.avi"), ".mp4"),
        (
            ("render", "demo:kite-week", "Logo reveal", "--out", "/nowhere/a.mp4"),
            "no folder /nowhere",
        ),
        (("render", "demo:kite-week", "Logo reveal", "--out", "a.mp4", "--from", "soon"), "2.5s"),
        (("render", "demo:kite-week", "Logo reveal", "--out", "a.mp4", "--scale", "0"), "scale"),
        (("frame", "demo:kite-week", "Logo reveal", "--at", "77", "--out", "a.png"), "--at"),
        (("import-project", "/nowhere.zip"), "there is no file"),
    ],
)
def test_mistakes_are_told_in_one_line(data, words, text):
    failed = run(data, *words)
    assert failed.returncode == 1
    assert failed.stderr.startswith("error: ") and text in failed.stderr
    assert "Traceback" not in failed.stderr


def test_an_imported_text_file_is_no_archive(data, tmp_path):
    wrong = tmp_path / "notes.zip"
    wrong.write_text("not a zip")
    assert "archive" in run(data, "import-project", str(wrong)).stderr


def test_the_sound_of_a_scene_is_rendered_alone_and_beside_its_video(data, tmp_path):
    alone, video = tmp_path / "reveal.wav", tmp_path / "reveal.mp4"
    part = ("--from", "1", "--to", "2.2s")
    done = run(data, "render", "demo:kite-week", "Logo reveal", "--out", str(alone), *part)
    assert done.returncode == 0 and "reveal.wav: 30 frames" in done.stdout, done.stderr
    done = run(data, "render", "demo:kite-week", "Logo reveal", "--out", str(video), "--scale", "0.1",
               "--quality", "draft", *part)  # fmt: skip
    assert done.returncode == 0, done.stderr
    loud = []
    for path in (alone, video):
        with av.open(str(path)) as opened:
            frames = list(opened.decode(audio=0))
            samples = [frame.to_ndarray().astype(float).reshape(-1) for frame in frames]
            full = 1.0 if frames[0].format.name.startswith("flt") else 2.0**31
            loud.append(np.sqrt((np.concatenate(samples) ** 2).mean()) / full)
    assert 0.01 < loud[0] < 0.5 and loud[1] == pytest.approx(loud[0], rel=0.1)
    silent = tmp_path / "silent.mp4"
    run(data, "render", "demo:kite-week", "Logo reveal", "--out", str(silent), "--scale", "0.1",
        "--quality", "draft", "--silent", *part)  # fmt: skip
    with av.open(str(silent)) as opened:
        assert not opened.streams.audio
    none = run(data, "render", "demo:kite-week", "Name tag", "--out", str(tmp_path / "tag.wav"))
    assert none.returncode == 1 and "nothing is heard" in none.stderr


def test_several_files_of_one_render(data, tmp_path):
    names = ("tag.gif", "tag.apng", "tag.vtt", "tag_%04d.png")
    outs = [word for name in names for word in ("--out", str(tmp_path / name))]
    done = run(data, "render", "demo:kite-week", "Name tag", *outs, "--scale", "0.1", "--to", "0.4",
               "--every", "2", "--transparent")  # fmt: skip
    assert done.returncode == 0 and "A GIF has 255 colours" in done.stderr, done.stderr
    numbered = sorted(path.name for path in tmp_path.glob("tag_*.png"))
    assert numbered == [f"tag_{n:04d}.png" for n in (0, 2, 4, 6, 8)]
    for name in names[:2]:
        with Image.open(tmp_path / name) as opened:
            assert opened.n_frames == 5
    assert (tmp_path / "tag.vtt").read_text().startswith("WEBVTT")
    folder = tmp_path / "frames"
    run(data, "render", "demo:kite-week", "Name tag", "-o", str(folder), "--scale", "0.1",
        "--rate", "5", "--to", "0.4")  # fmt: skip
    assert sorted(path.name for path in folder.iterdir()) == [
        "name-tag_00000.png", "name-tag_00001.png",
    ]  # fmt: skip
    still = tmp_path / "tag.webp"
    done = run(data, "frame", "demo:kite-week", "Name tag", "-o", str(still), "--scale", "0.1")
    with Image.open(still) as opened:
        assert done.returncode == 0 and not getattr(opened, "is_animated", False)


def test_a_preset_says_which_files_are_made(data, tmp_path):
    folder = DataFolder(Config(data=data))
    ensure_demo(folder)
    kept = {"format": "gif", "also": ["vtt"], "scale": 0.1, "every": 5}
    edit = {"kind": "save-preset", "id": "stand", "name": "For the stand", "settings": kept}
    folder.workspace.edit(DEMO_ID, parse_edit(edit))
    folder.close()
    out = str(tmp_path / "tag")
    done = run(
        data, "render", "demo", "Name tag", "--preset", "for the stand", "-o", out, "--to", "1"
    )
    assert done.returncode == 0 and "tag.gif: 192 x 108, 5 frames" in done.stdout, done.stderr
    assert sorted(path.name for path in tmp_path.iterdir()) == ["tag.gif", "tag.vtt"]
    wrong = run(data, "render", "demo", "Name tag", "--preset", "stand", "-o", out + ".mp4")
    assert wrong.returncode == 1 and "without an ending" in wrong.stderr
    wrong = run(data, "render", "demo", "Name tag", "--preset", "For the bus", "-o", out)
    assert wrong.returncode == 1 and "'For the stand'" in wrong.stderr


def test_what_cannot_be_rendered_is_said_with_the_option(data, tmp_path):
    a, b = str(tmp_path / "a.mp4"), str(tmp_path / "b.mp4")
    for words, said in (
        (("-o", a, "-o", b), "one format"),
        (("-o", str(tmp_path / "a.avi")), ".mp4, .mov, .webm, .html, .gif"),
        (("-o", str(tmp_path / "no" / "a.gif")), "no folder"),
        (("-o", a, "--layers", "Nobody"), "--layers"),
        (("-o", a, "--rate", "fast"), "rate"),
        (("-o", a, "--loudness", "3"), "loudness"),
        (("-o", str(tmp_path / "a.gif"), "--rate", "60"), "50 frames a second"),
    ):
        wrong = run(data, "render", "demo:kite-week", "Name tag", *words)
        assert wrong.returncode == 1 and said in wrong.stderr, (words, wrong.stderr)
    assert not list(tmp_path.iterdir())


def test_a_page_for_review_a_timeline_and_notes_that_come_back(data, tmp_path):
    outs = [str(tmp_path / name) for name in ("tag.html", "tag.otio", "tag.svg", "tag.notes.json")]
    done = run(data, "render", "demo:kite-week", "Name tag", "-o", outs[0], "-o", outs[1],
               "--scale", "0.1", "--to", "0.4")  # fmt: skip
    assert done.returncode == 0, done.stderr
    assert "for review" in Path(outs[0]).read_text() and "Timeline.1" in Path(outs[1]).read_text()
    done = run(data, "frame", "demo:kite-week", "Lower third", "--at", "2", "-o", outs[2])
    assert done.returncode == 0 and "As pictures in the SVG: Far clouds" in done.stderr, done.stderr
    assert Path(outs[2]).read_text().count("<image") == 4
    notes = {"kind": "young-comet-notes", "scene": "name-tag", "by": "Mara",
             "notes": [{"at_s": 1.0, "text": "Softer"}]}  # fmt: skip
    Path(outs[3]).write_text(json.dumps(notes))
    kept = run(data, "notes", "demo:kite-week", "Name tag", outs[3])
    assert kept.returncode == 0 and "1 note in 'Gullwing Bay Kite Week'" in kept.stdout, kept.stderr
    for scene, file, said in (
        ("Name tag", outs[3], "there already"), ("Opener", outs[3], "Name tag"),
        ("Name tag", outs[1], "kind"), ("Name tag", str(tmp_path / "no.json"), "no.json"),
    ):  # fmt: skip
        wrong = run(data, "notes", "demo:kite-week", scene, file)
        assert wrong.returncode == 1 and said in wrong.stderr, wrong.stderr


def test_the_kit_is_listed_and_written(data, tmp_path):
    listed = run(data, "kit")
    assert listed.returncode == 0 and "hit-landing" in listed.stdout and "Race day" in listed.stdout
    target = tmp_path / "hit.flac"
    done = run(data, "kit", "hit-drum", "--out", str(target), "--length", "0.5", "--pitch", "-3")
    assert done.returncode == 0, done.stderr
    with av.open(str(target)) as opened:
        assert sum(frame.samples for frame in opened.decode(audio=0)) == 24_000
    for words, said in (
        (("kit", "hit-nobody", "--out", str(target)), "hit-nobody"),
        (("kit", "hit-drum"), "--out"),
        (("kit", "hit-drum", "--out", str(tmp_path / "hit.xyz")), ".wav, .flac"),
        (("kit", "hit-drum", "--out", str(target), "--length", "999"), "--length"),
    ):
        wrong = run(data, *words)
        assert wrong.returncode == 1 and said in wrong.stderr


def test_typefaces_are_listed_and_told_of():
    runner = CliRunner()
    listed = runner.invoke(app, ["typefaces"])
    assert listed.exit_code == 0
    assert all(family.id in listed.stdout for family in SHIPPED)
    told = runner.invoke(app, ["typefaces", "source-serif"]).stdout.splitlines()
    assert "weight: 200 to 900" in told and "smcp: small capitals" in told
    refused = runner.invoke(app, ["typefaces", "gull"])
    assert refused.exit_code != 0 and "gull" in str(refused.exception)
