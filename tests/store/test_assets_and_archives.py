import io
import json
import zipfile

import pytest
from tests.build import layer, png, project
from tests.footage import animation, video

from young_comet.core.frame.contents import PictureContent
from young_comet.core.model import Project
from young_comet.core.paint import MediaLibrary
from young_comet.core.typography.shipped import shipped_files
from young_comet.edits.patch import plain
from young_comet.errors import (
    DocumentError,
    MediaError,
    MediaTooLargeError,
    NewerSchemaError,
    NotFoundError,
)
from young_comet.store import read_archive, write_archive
from young_comet.store.archive import Imported
from young_comet.store.assets import display_name

SVG = b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 30 20"><rect width="30" height="20"/></svg>'


def test_files_are_stored_by_content_and_known_by_it(folder):
    assets = folder.assets
    kite = assets.ingest("kite.png", png(40, 30), "a1")
    again = assets.ingest("other name.jpg", png(40, 30), "a2")
    assert kite.hash == again.hash and again.media_type == "image/png"
    assert (kite.kind, kite.width, kite.height) == ("picture", 40, 30)
    assert assets.read_asset(kite.hash) == png(40, 30)
    assert assets.thumbnail_path(kite.hash).stat().st_size > 30
    cloud = assets.ingest("cloud.svg", SVG, "a3")
    assert (cloud.kind, cloud.width, cloud.height) == ("svg", 30, 20)
    font = assets.ingest("face.ttf", shipped_files("oswald")[0].read_bytes(), "a4")
    assert font.kind == "font" and "Oswald" in font.family
    stored = [p for p in folder.assets_dir.rglob("*") if p.is_file()]
    assert {p.stem for p in stored} == {kite.hash, cloud.hash, font.hash}


@pytest.mark.parametrize(
    ("name", "data", "text"),
    [
        ("story.png", b"Once upon a time", "story.png"),
        ("empty.png", b"", "empty"),
        ("broken.png", png()[:50], "broken.png"),
        ("face.ttf", b"\x00\x01\x00\x00" + b"x" * 80, "font"),
        ("page.svg", b"<svg><script", "SVG"),
    ],
)
def test_what_cannot_be_used_is_refused_and_not_stored(folder, name, data, text):
    with pytest.raises(MediaError, match=text):
        folder.assets.ingest(name, data, "a1")
    assert not list(folder.assets_dir.rglob("*")) or not any(
        p.is_file() for p in folder.assets_dir.rglob("*")
    )


def test_limits_of_bytes_and_pixels(folder):
    with pytest.raises(MediaTooLargeError, match="2 MB"):
        folder.assets.ingest("big.png", b"\x89PNG" + b"\0" * (3 * 2**20), "a1")
    with pytest.raises(MediaTooLargeError, match="4,000,000"):
        folder.assets.ingest("wide.png", png(4000, 1100), "a1")


@pytest.mark.parametrize(
    "name", ["../../etc/passwd", "C:\\kites\\..\\a.png", "/root/x.png", "\0\n", ""]
)
def test_names_never_become_paths(folder, name):
    asset = folder.assets.ingest(name, png(), "a1")
    assert "/" not in asset.name and "\\" not in asset.name and asset.name
    inside = folder.path.resolve()
    assert all(p.resolve().is_relative_to(inside) for p in folder.path.rglob("*"))
    assert display_name(name) == asset.name


def test_only_hashes_reach_the_disk(folder):
    for wrong in ("../young-comet.sqlite", "", "A" * 64, "a" * 63):
        with pytest.raises(NotFoundError):
            folder.assets.read_asset(wrong)


def sample(folder):
    asset = folder.assets.ingest("kite.png", png(), "emblem")
    document = project(layer("kite", "picture", picture__asset="emblem"))
    return document.model_copy(update={"assets": (asset,)})


def packed(folder, change=None, extra=None):
    document = plain(sample(folder))
    if change:
        change(document)
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("project.json", json.dumps(document))
        for asset in document["assets"]:
            archive.writestr(f"assets/{asset['hash']}.png", png())
        for name, data in (extra or {}).items():
            archive.writestr(name, data)
    return saved(folder, target.getvalue())


def saved(folder, data):
    path = folder.path / "packed.zip"
    path.write_bytes(data)
    return path


def test_a_project_survives_the_way_through_a_zip(folder, tmp_path):
    document = sample(folder)
    first, second = tmp_path / "a.zip", tmp_path / "b.zip"
    write_archive(document, folder.assets, first)
    write_archive(document, folder.assets, second)
    assert first.read_bytes() == second.read_bytes()
    with zipfile.ZipFile(first) as archive:
        names = archive.namelist()
        assert json.loads(archive.read("project.json"))["name"] == "Kite Week"
    assert names == ["project.json", f"assets/{document.assets[0].hash}.png"]
    assert read_archive(first, folder.assets) == Imported(document, ())


@pytest.mark.parametrize(
    "name", ["../evil.txt", "/etc/cron.d/x", "assets/../../x", "assets/kite.png", "a\\b"]
)
def test_names_in_a_zip_that_lead_elsewhere_are_refused(folder, name):
    with pytest.raises(MediaError, match="unexpected file"):
        read_archive(packed(folder, extra={name: b"x"}), folder.assets)


def newer(document):
    document["schema_version"] = 99


def lying(document):
    document["assets"][0]["width"] = 4000


def unknown_easing(document):
    keys = [{"id": "a", "time_s": 0, "value": 5, "easing": "swoosh"}]
    document["scenes"][0]["layers"][0]["properties"]["opacity"] = {"keys": keys}


def missing(document):
    document["assets"].append(
        {**document["assets"][0], "id": "two", "hash": "0" * 64, "media_type": "image/webp"}
    )


@pytest.mark.parametrize(
    ("change", "error", "text"),
    [(newer, NewerSchemaError, "newer"), (lying, MediaError, "not what"),
     (unknown_easing, DocumentError, "easing")],
)  # fmt: skip
def test_archives_that_do_not_hold_together_are_refused(folder, change, error, text):
    with pytest.raises(error, match=text):
        read_archive(packed(folder, change), folder.assets)


def test_an_archive_that_lacks_a_file_comes_in_with_a_word(folder):
    imported = read_archive(packed(folder, missing), folder.assets)
    assert imported.notes == ("the file of asset 'kite.png' is missing in the archive",)
    assert [asset.id for asset in imported.project.assets] == ["emblem", "two"]
    assert [bool(folder.assets.trouble(a)) for a in imported.project.assets] == [False, True]


def test_an_archive_that_fails_its_checks_can_be_mended(folder):
    imported = read_archive(packed(folder, unknown_easing), folder.assets, mend=True)
    assert len(imported.notes) == 1 and "opacity" in imported.notes[0].lower()
    assert "opacity" not in imported.project.scenes[0].layers[0].properties


def test_files_that_are_no_archives_are_refused(folder):
    for data in (b"", b"PK nothing", png()):
        with pytest.raises(MediaError, match="archive"):
            read_archive(saved(folder, data), folder.assets)
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w") as archive:
        archive.writestr("readme.txt", "hello")
    with pytest.raises(MediaError):
        read_archive(saved(folder, target.getvalue()), folder.assets)


def test_a_bomb_is_refused_by_what_it_unpacks_to(folder):
    target = io.BytesIO()
    with zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("project.json", b" " * (70 * 2**20))
    with pytest.raises(MediaTooLargeError):
        read_archive(saved(folder, target.getvalue()), folder.assets)


def test_clips_are_known_by_their_content_and_travel_in_a_zip(folder, tmp_path):
    clip = folder.assets.ingest("clouds.txt", video(20), "clouds")
    assert (clip.kind, clip.frame_count, clip.duration_s) == ("clip", 20, 0.8)
    assert folder.assets.thumbnail_path(clip.hash) is not None
    document = Project(id="kites", name="Kite Week", assets=(clip,))
    target = tmp_path / "clips.zip"
    write_archive(document, folder.assets, target)
    with zipfile.ZipFile(target) as archive:
        assert archive.namelist() == ["project.json", f"assets/{clip.hash}.mp4"]
    assert read_archive(target, folder.assets).project == document


def test_a_document_that_lies_about_its_clip_is_refused(folder, tmp_path):
    clip = folder.assets.ingest("wind.gif", animation(4), "wind")
    lying = Project(id="k", name="K", assets=(clip.model_copy(update={"frame_count": 4000}),))
    target = tmp_path / "lie.zip"
    write_archive(lying, folder.assets, target)
    with pytest.raises(MediaError, match="not what the project says"):
        read_archive(target, folder.assets)


def test_a_gif_of_one_frame_is_a_picture(folder):
    assert folder.assets.ingest("still.gif", animation(1), "still").kind == "picture"


def test_drawings_are_kept_and_a_damaged_one_is_drawn_again(folder):
    svg = b'<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"><rect width="40" height="30" fill="#ff7a45"/></svg>'
    kite = folder.assets.ingest("kite.svg", svg, "kite")
    content = PictureContent(kite.hash, True, (40, 30), 40, 30)

    def draw():
        return MediaLibrary(folder.assets, drawings=folder.assets).picture(content, 1.0)._level(0)

    first = draw()
    (kept,) = folder.assets_dir.rglob("*-2000.png")  # larger than it is shown
    written = kept.stat().st_mtime_ns
    assert (draw() == first).all() and kept.stat().st_mtime_ns == written
    kept.write_bytes(kept.read_bytes()[:40])
    assert (draw() == first).all() and kept.stat().st_mtime_ns != written
    with pytest.raises(NotFoundError):
        folder.assets.drawing("../../etc", 1.0)
