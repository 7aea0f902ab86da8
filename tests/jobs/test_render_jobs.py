import time
from pathlib import Path

import av
import cv2
import numpy as np
import pytest
from tests.build import draw, key, layer, project

from young_comet.core.export import RenderSettings
from young_comet.errors import DocumentError, RenderCancelled, RenderError, StorageFullError
from young_comet.jobs import LocalProcesses, RenderQueue, render, render_scene
from young_comet.jobs.engine import PartFailed
from young_comet.jobs.part import part_file, render_part

TWO = LocalProcesses(2)


class Here:
    """An engine without processes: each part is rendered as it is submitted. ``lost`` is the part
    of which nothing is heard but that it is lost."""

    def __init__(self, wide=1, lost=None):
        self.wide, self.lost = wide, lost
        self.submitted, self.closed = [], 0

    def submit(self, parts):
        self.submitted += parts
        self.reports = []
        for index, part in enumerate(parts):
            if index == self.lost:
                self.reports.append(PartFailed(index, "the machine in the harbour is out of reach"))
            else:
                render_part(part, index, self.reports.append)
        return self

    def next_report(self, timeout_s):
        return self.reports.pop(0) if self.reports else None

    def close(self):
        self.closed += 1


def moving(**more):
    keys = [key(0, [50, 90]), key(2, [250, 90])]
    return project(
        layer("sky", "backdrop", fill__kind="linear"),
        layer("box", "shape", shape__size=[80, 60], position=keys),
        **more,
    )


def wait_for(check, seconds=60):
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        if check():
            return
        time.sleep(0.05)
    raise AssertionError("it did not happen in time")


def test_a_video_has_the_frames_that_were_asked_for(folder, tmp_path):
    seen = []
    result = render_scene(
        moving(), "reveal", RenderSettings(from_s=1, to_s=3, quality="best"), tmp_path / "out.mp4",
        folder.assets_dir, engine=TWO, progress=lambda done, total: seen.append((done, total)),
    )  # fmt: skip
    assert (result.width, result.height, result.frames) == (320, 180, 50)
    assert seen[-1] == (50, 50)
    with av.open(str(result.path)) as video:
        frames = [frame.to_ndarray(format="bgr24") for frame in video.decode(video=0)]
    assert len(frames) == 50
    for n in (0, 24, 25, 49):  # both sides of the seam between the two parts
        expected = draw(moving(), 1 + n / 25)[:, :, :3].astype(int)
        assert np.abs(frames[n].astype(int) - expected).mean() < 4
    assert sorted(p.name for p in tmp_path.iterdir() if p.name.startswith(".")) == []


def test_an_odd_frame_is_padded(folder, tmp_path):
    settings = RenderSettings(to_s=0.2, quality="draft")
    result = render_scene(
        moving(width=321, height=181),
        "reveal",
        settings,
        tmp_path / "o.mp4",
        folder.assets_dir,
        engine=Here(),
    )
    assert (result.width, result.height) == (322, 182) and "padded" in result.notice


def test_a_still_is_the_renderers_own_frame(folder, tmp_path):
    settings = RenderSettings(format="png", at_s=1.0, scale=0.5)
    result = render_scene(
        moving(), "reveal", settings, tmp_path / "f.png", folder.assets_dir, engine=Here()
    )
    pixels = cv2.imread(str(result.path), cv2.IMREAD_UNCHANGED)
    assert (pixels == draw(moving(), 1.0, 0.5)[:, :, :3]).all()


def test_a_still_without_ground_and_backdrops_is_transparent(folder, tmp_path):
    settings = RenderSettings(format="png", transparent=True, leave_out_backdrops=True)
    result = render_scene(
        moving(), "reveal", settings, tmp_path / "f.png", folder.assets_dir, engine=Here()
    )
    pixels = cv2.imread(str(result.path), cv2.IMREAD_UNCHANGED)
    assert pixels[5, 5, 3] == 0 and pixels[90, 50, 3] == 255


def test_cancelling_stops_the_processes_and_leaves_nothing(folder, tmp_path):
    calls = []

    def cancelled():
        calls.append(1)
        return len(calls) > 3

    with pytest.raises(RenderCancelled):
        render_scene(
            moving(length_s=400.0), "reveal", RenderSettings(), tmp_path / "out.mp4",
            folder.assets_dir, engine=TWO, cancelled=cancelled,
        )  # fmt: skip
    assert list(tmp_path.glob("*.mp4")) == [] and list(tmp_path.glob(".render-*")) == []


def test_an_engine_of_another_width_gives_the_same_frames(folder, tmp_path):
    """Three parts rendered here, one after another, show what two processes do."""
    settings, here = RenderSettings(to_s=1.6, quality="best"), Here(wide=3)
    engines = {"here": here, "processes": TWO}
    pictures = {}
    for name, engine in engines.items():
        path = tmp_path / f"{name}.mp4"
        render_scene(moving(), "reveal", settings, path, folder.assets_dir, engine=engine)
        with av.open(str(path)) as video:
            pictures[name] = [f.to_ndarray(format="bgr24") for f in video.decode(video=0)]
    assert [(part.first, part.last) for part in here.submitted] == [(0, 13), (13, 27), (27, 40)]
    assert here.closed == 1 and len(pictures["here"]) == len(pictures["processes"]) == 40
    for one, other in zip(*pictures.values(), strict=True):
        assert np.abs(one.astype(int) - other).mean() < 2


def test_a_part_that_is_lost_loses_the_render_and_the_engine_is_closed(folder, tmp_path):
    engine = Here(wide=2, lost=1)
    with pytest.raises(RenderError, match="harbour"):
        render_scene(
            moving(), "reveal", RenderSettings(to_s=2), tmp_path / "o.mp4", folder.assets_dir,
            engine=engine,
        )  # fmt: skip
    assert engine.closed == 1 and list(tmp_path.glob("*.mp4")) == []


def to_full_disk(folder: Path, index: int) -> Path:
    stem = folder / f"part-{index}"
    part_file(str(stem), "mp4").symlink_to("/dev/full")
    return stem


@pytest.fixture
def queue(folder):
    running = RenderQueue(folder.renders, folder.renders_dir, folder.assets_dir, TWO)
    running.start()
    yield running
    running.stop()


def test_a_full_disk_fails_the_job_cleanly_and_the_next_one_works(folder, queue, monkeypatch):
    folder.workspace.create(moving())
    monkeypatch.setattr(render, "part_path", to_full_disk)
    broken = queue.add(moving(), "reveal", RenderSettings(to_s=1))
    wait_for(lambda: folder.renders.get(broken.id).status == "failed")
    assert "disk is full" in folder.renders.get(broken.id).message
    assert list(folder.renders_dir.iterdir()) == []
    assert folder.workspace.state("kites").project.name == "Kite Week"
    monkeypatch.undo()
    fine = queue.add(moving(), "reveal", RenderSettings(to_s=0.4, quality="draft"))
    wait_for(lambda: folder.renders.get(fine.id).status == "done")
    assert (
        queue.result_paths(folder.renders.get(fine.id))["mp4"].stat().st_size
        == folder.renders.get(fine.id).size_bytes
    )


def test_a_full_disk_is_an_error_of_its_own(folder, tmp_path, monkeypatch):
    monkeypatch.setattr(render, "part_path", to_full_disk)
    with pytest.raises(StorageFullError):
        render_scene(
            moving(),
            "reveal",
            RenderSettings(to_s=1),
            tmp_path / "o.mp4",
            folder.assets_dir,
            engine=TWO,
        )
    assert list(tmp_path.glob("*.mp4")) == []


def test_the_queue_tells_progress_cancels_and_removes(folder, queue):
    told = []
    queue.listen(lambda record, left: told.append((record.status, record.done, left)))
    long = queue.add(moving(length_s=600.0), "reveal", RenderSettings())
    waiting = queue.add(moving(), "reveal", RenderSettings())
    assert queue.cancel(waiting.id).status == "cancelled"
    # The time left is known from the second report on.
    wait_for(lambda: any(status == "running" and done and left for status, done, left in told))
    with pytest.raises(DocumentError, match="cancel"):
        queue.remove(long.id)
    queue.cancel(long.id)
    wait_for(lambda: folder.renders.get(long.id).status == "cancelled")
    assert folder.renders.get(long.id).done > 0
    queue.remove(long.id)
    assert [record.id for record in folder.renders.all()] == [waiting.id]


def test_a_render_is_of_the_document_as_it_was(folder, queue):
    still = queue.add(moving(), "reveal", RenderSettings(format="png", at_s=2.0))
    wait_for(lambda: folder.renders.get(still.id).status == "done")
    pixels = cv2.imread(
        str(queue.result_paths(folder.renders.get(still.id))["png"]), cv2.IMREAD_UNCHANGED
    )
    assert (pixels == draw(moving(), 2.0)[:, :, :3]).all()


def test_wrong_settings_are_refused_before_they_are_queued(folder, queue):
    with pytest.raises(DocumentError):
        queue.add(moving(), "reveal", RenderSettings(from_s=99))
    with pytest.raises(DocumentError, match="at_s"):
        queue.add(moving(), "reveal", RenderSettings(format="png", at_s=4.0))
    assert folder.renders.all() == []


def test_renders_that_were_interrupted_are_told_at_the_next_start_and_can_be_asked_for_again(
    folder,
):
    render_id = folder.renders.add(moving(), "reveal", RenderSettings().model_dump(), 100)
    assert folder.renders.claim(render_id) and not folder.renders.claim(render_id)
    folder.renders.interrupt_running()
    record = folder.renders.get(render_id)
    assert record.status == "interrupted" and "stopped" in record.message
    assert folder.renders.put_back(render_id) and not folder.renders.put_back(render_id)
    assert folder.renders.next_waiting() == render_id
