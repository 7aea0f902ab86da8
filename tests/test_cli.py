import os
import subprocess
import sys
from pathlib import Path

import av
import cv2
import numpy as np
import pytest

ROOT = Path(__file__).parent.parent


def run(data: Path, *words: str):
    command = [sys.executable, "-m", "young_comet.cli", *words]
    environment = {**os.environ, "YOUNG_COMET_DATA": str(data), "COLUMNS": "160"}
    return subprocess.run(command, capture_output=True, text=True, env=environment, timeout=240)


@pytest.fixture(scope="module")
def data(tmp_path_factory):
    return tmp_path_factory.mktemp("cli") / "data"


def test_every_command_explains_itself(data):
    for command in ("serve", "projects", "render", "frame", "export-project", "import-project"):
        help_ = run(data, command, "--help")
        assert help_.returncode == 0 and "Usage" in help_.stdout
        assert command in run(data, "--help").stdout


def test_a_rendered_video_shows_the_frames_that_frame_writes(data, tmp_path):
    video, still = tmp_path / "reveal.mp4", tmp_path / "f.png"
    done = run(data, "render", "demo:kite-week", "Logo reveal", "--out", str(video), "--from", "1",
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
