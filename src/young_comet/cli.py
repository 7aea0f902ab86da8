"""The command line."""

from __future__ import annotations

import errno
import gc
import signal
import socket
import sys
from contextlib import ExitStack, closing
from pathlib import Path
from typing import Annotated, Any, NoReturn

import typer
from pydantic import ValidationError
from rich.console import Console
from rich.markup import escape
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn, TimeRemainingColumn
from rich.table import Table

from . import __version__
from .children import end_with_all
from .cli_kit import kit
from .cli_outputs import format_among, formats_of, named_after, written
from .cli_typefaces import typefaces
from .config import Config
from .core.export import RenderSettings, checked, notes_of
from .core.mix import is_heard
from .core.model import Project, RenderPreset, Scene
from .core.model.schema import from_validation
from .core.paint import MediaLibrary, output_size
from .core.plan import plan_frame, plan_lines
from .core.resolve import SceneEvaluator
from .core.timing import Rate, parse_time
from .demo import DEMO_ID, ensure_demo
from .edits import new_id
from .edits.note_edits import NotesToMarks, read_notes
from .edits.preset_edits import settings_of
from .errors import DocumentError, NotFoundError, YoungCometError
from .jobs import LocalProcesses, render_scene
from .store import DataFolder, examined, read_archive, write_archive
from .store.trouble import storage_error

app = typer.Typer(
    add_completion=False,
    no_args_is_help=True,
    pretty_exceptions_enable=False,
    help="Logo reveals, lower thirds and kinetic titles, animated and rendered.",
)
out = Console(highlight=False)
err = Console(stderr=True, highlight=False)

DataOption = Annotated[
    Path | None,
    typer.Option(
        "--data", help="Data folder [default: $YOUNG_COMET_DATA or ~/.local/share/young-comet]"
    ),
]
ProjectArgument = Annotated[
    str, typer.Argument(help="Project id or name; demo:kite-week is the demo project")
]
SceneArgument = Annotated[str, typer.Argument(help="Scene id or name")]
OutOption = Annotated[Path, typer.Option("--out", "-o", help="File to write")]
GoOnOption = Annotated[
    bool, typer.Option("--go-on", help="Mark what cannot be drawn instead of stopping")
]
OutsOption = Annotated[
    list[Path], typer.Option("--out", "-o", help="File to write; may be given several times")
]
ScaleOption = Annotated[float, typer.Option(help="Size relative to the scene's frame")]


# What a command has opened is closed when it has ended, however it ends.
_at_the_end = ExitStack()


def main() -> None:
    """Runs the command line; the program's own errors become one line and exit code 1."""
    with _at_the_end:
        try:
            app()
        except YoungCometError as error:
            _fail(error)
        except OSError as error:
            _fail(storage_error(error))


def _fail(error: Exception) -> NoReturn:
    err.print("[red]error:[/red]", escape(str(error)), soft_wrap=True)
    sys.exit(1)


def _config(data: Path | None, **more: Any) -> Config:
    values = {key: value for key, value in {"data": data, **more}.items() if value is not None}
    try:
        return Config(**values)
    except ValidationError as error:
        raise from_validation(error) from error


def _opened(data: Path | None, **more: Any) -> DataFolder:
    """The data folder, until the command has ended."""
    return _at_the_end.enter_context(closing(DataFolder(_config(data), **more)))


def _find(folder: DataFolder, name: str) -> Project:
    if name in (f"demo:{DEMO_ID}", "demo"):
        if folder.holding is not None:
            ensure_demo(folder)
        name = DEMO_ID
    return folder.workspace.find(name).project


def _scene(project: Project, name: str) -> Scene:
    found = [s for s in project.scenes if s.id == name] or [
        s for s in project.scenes if s.name.casefold() == name.casefold()
    ]
    if len(found) > 1:
        raise DocumentError(f"several scenes are called {name!r}; use an id", field="scene")
    if not found:
        known = ", ".join(repr(s.name) for s in project.scenes) or "none"
        raise NotFoundError(f"there is no scene {name!r} (there are: {known})", field="scene")
    return found[0]


@app.command()
def serve(
    data: DataOption = None,
    host: Annotated[
        str | None, typer.Option(help="Address to listen at [default: 127.0.0.1]")
    ] = None,
    port: Annotated[int | None, typer.Option(help="Port [default: 8765]")] = None,
    demo: Annotated[
        bool, typer.Option("--demo", help="Make sure the demo project is there")
    ] = False,
) -> None:
    """Starts the application; open its address in a browser."""
    import uvicorn

    from .web import create_app

    config = _config(data, host=host, port=port)
    # The port first, then the folder: whoever has neither must not touch what others work with.
    listening = _listening(config.host, config.port)
    address = f"http://{config.host}:{listening.getsockname()[1]}"
    # A document is many small objects that stay: looking through them all at every 700 new ones
    # would take half of the time of a large edit.
    gc.set_threshold(50_000, 20, 50)
    with closing(listening):
        folder = DataFolder(config, what=address)
        if demo:
            ensure_demo(folder)
        out.print(f"Young Comet {__version__} at {address}")
        out.print(f"[dim]Projects are kept in {config.data}. Stop with Ctrl+C.[/dim]")
        settings = uvicorn.Config(
            create_app(config, folder), log_level="warning",
            # Frames are JPEGs or raw pixels on the loopback: deflating them only costs time.
            ws_max_size=8 * 2**20, ws_per_message_deflate=False,
            # A connection that a browser comes back to after a pause should still be there.
            timeout_keep_alive=75,
            # Whoever still waits for an answer must not keep the program from ending.
            timeout_graceful_shutdown=1,
        )  # fmt: skip
        # Uvicorn raises the signal that ended it once more when everything has been stopped.
        for signum in (signal.SIGINT, signal.SIGTERM):
            signal.signal(signum, end_with_all)
        uvicorn.Server(settings).run(sockets=[listening])


def _listening(host: str, port: int) -> socket.socket:
    """A socket at an address; DocumentError where that cannot be had."""
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    # Named as TCP: only then does asyncio send small answers without waiting for more.
    sock = socket.socket(family, socket.SOCK_STREAM, socket.IPPROTO_TCP)
    sock.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        sock.bind((host, port))
        sock.listen(128)
    except (OSError, OverflowError) as error:
        sock.close()
        if isinstance(error, OSError) and error.errno == errno.EADDRINUSE:
            message = f"port {port} is in use by another program; choose another with --port"
        elif isinstance(error, OSError) and error.errno == errno.EACCES:
            message = f"this user may not listen at port {port}; choose one above 1023"
        else:
            message = f"{host}:{port} is no address to listen at ({error})"
        raise DocumentError(message, field="--port") from error
    return sock


_MARKS = {"well": "[green]well [/]", "note": "[yellow]note [/]", "wrong": "[red]wrong[/]"}


@app.command()
def doctor(data: DataOption = None) -> None:
    """Says what is wrong with a data folder; changes nothing. Exit code 1 where something is."""
    wrong = 0
    for finding in examined(_config(data)):
        out.print(_MARKS[finding.level], escape(finding.words), soft_wrap=True)
        wrong += finding.level == "wrong"
    if wrong:
        raise typer.Exit(1)


@app.command()
def projects(data: DataOption = None) -> None:
    """Lists the projects and their scenes."""
    folder = _opened(data, writing=False)
    table = Table(
        "id", "project", "scene", "frame", "fps", "length", "tags", box=None, pad_edge=False
    )
    for summary in folder.workspace.projects():
        project = folder.workspace.state(summary.id).project
        rows = [
            (
                s.name, f"{s.width} x {s.height}", s.rate.rate.label, f"{s.length_s:g} s",
                ", ".join(s.tags),
            )
            for s in project.scenes
        ]  # fmt: skip
        for index, row in enumerate(rows or [("-", "", "", "", "")]):
            first = (summary.id, summary.name) if index == 0 else ("", "")
            table.add_row(*first, *row)
    if table.row_count:
        out.print(table)
    else:
        out.print("There are no projects yet. `young-comet serve --demo` brings the demo.")


@app.command()
def render(
    project: ProjectArgument,
    scene: SceneArgument,
    to_files: OutsOption,
    from_: Annotated[
        str | None,
        typer.Option("--from", help="Start, e.g. 0, 1.5s, 30f [default: the working range's]"),
    ] = None,
    to: Annotated[
        str | None, typer.Option(help="End, not included [default: the working range's]")
    ] = None,
    scale: ScaleOption = 1.0,
    quality: Annotated[str, typer.Option(help="draft, good or best")] = "good",
    odd: Annotated[str, typer.Option(help="Odd sizes: pad or crop by a pixel")] = "pad",
    go_on: GoOnOption = False,
    transparent: Annotated[
        bool, typer.Option("--transparent", help="Leave the ground out where a file can hold that")
    ] = False,
    without_backdrops: Annotated[
        bool, typer.Option("--without-backdrops", help="Leave backdrop layers out")
    ] = False,
    ground: Annotated[
        str, typer.Option(help="Colour below what is transparent, where a file cannot hold that")
    ] = "#000000",
    silent: Annotated[
        bool, typer.Option("--silent", help="Leave the sound out of a video")
    ] = False,
    loudness: Annotated[
        float | None, typer.Option(help="Bring the sound to so many LUFS, e.g. -14, -16, -23")
    ] = None,
    true_peak: Annotated[float, typer.Option(help="Its true peaks at most, dBTP")] = -1.0,
    every: Annotated[int, typer.Option(help="Take every so many frames")] = 1,
    rate: Annotated[
        str | None, typer.Option(help="A frame rate of its own, e.g. 12, 30, 30000/1001")
    ] = None,
    layers: Annotated[
        list[str] | None, typer.Option(help="Draw only this layer, by name or id; may be repeated")
    ] = None,
    loops: Annotated[int, typer.Option(help="How often an animation plays; 0: for ever")] = 0,
    colours: Annotated[int, typer.Option(help="Colours of a GIF, 2 to 256")] = 256,
    dither: Annotated[str, typer.Option(help="Of a GIF: ordered, diffused or none")] = "ordered",
    preset: Annotated[
        str | None,
        typer.Option(help="A preset of the project, instead of the options; --out without ending"),
    ] = None,
    data: DataOption = None,
) -> None:
    """Renders a scene, or a range of it: as a video (.mp4, or with alpha .mov,
    .webm), an animation for a page or a message (.gif, .webp, .apng), as numbered
    PNG files (.zip, a folder, or name_%04d.png), its sound alone (.wav, .flac), its
    words (.vtt), a contact sheet (.sheet.png, .pdf), a page for a client's notes
    (.html), a timeline (.otio). --out may be given several times: pictures are
    composed once."""
    folder = _opened(data, writing=False)
    document = _find(folder, project)
    shown = _scene(document, scene)
    at = shown.rate.rate
    own: dict[str, Any] = {
        "gaps": "mark" if go_on else "stop",
        "from_s": None if from_ is None else parse_time(from_, at),
        "to_s": None if to is None else parse_time(to, at),
        "layers": [_layer(shown, each) for each in layers or ()],
    }
    kept = None if preset is None else settings_of(_preset(document, preset), **own)
    paths = formats_of(to_files) if kept is None else named_after(to_files, kept.formats)
    first, *also = paths
    settings = kept or _settings(
        **own, format=first, also=also, sound=not silent, loudness=loudness, true_peak=true_peak,
        every=every, loops=loops, colours=colours, dither=dither,
        rate=None if rate is None else _rate(rate),
        transparent=transparent, leave_out_backdrops=without_backdrops, ground=ground,
        quality=quality, scale=scale, odd=odd,
    )  # fmt: skip
    heard = is_heard(SceneEvaluator(document, shown.id))
    for each in notes_of(shown, settings, checked(shown, settings), heard):
        err.print("[yellow]note:[/yellow]", escape(each), soft_wrap=True)
    with written(paths) as targets:
        result = _render(folder, document, shown, settings, targets)
    if result.notice:
        err.print(f"[yellow]note:[/yellow] {result.notice}", soft_wrap=True)
    speed = result.frames / max(result.seconds, 1e-6)
    took = f"{result.frames} frames in {result.seconds:.1f} s ({speed:.0f} a second)"
    size = f"{result.width} x {result.height}, " if result.width else ""
    for path in paths.values():
        out.print(f"{path}: {size}{took}", soft_wrap=True)


@app.command()
def frame(
    project: ProjectArgument,
    scene: SceneArgument,
    to_file: OutOption,
    at: Annotated[str, typer.Option(help="Moment, e.g. 1.5, 36f, 00:01:12")] = "0",
    scale: ScaleOption = 1.0,
    quality: Annotated[str, typer.Option(help="draft, good or best (.jpg, .webp)")] = "good",
    transparent: Annotated[
        bool, typer.Option("--transparent", help="Leave the ground colour out")
    ] = False,
    without_backdrops: Annotated[
        bool, typer.Option("--without-backdrops", help="Leave backdrop layers out")
    ] = False,
    go_on: GoOnOption = False,
    data: DataOption = None,
) -> None:
    """Writes one frame of a scene as a picture (.png, .jpg, .webp) or as paths (.svg)."""
    folder = _opened(data, writing=False)
    document = _find(folder, project)
    shown = _scene(document, scene)
    at_s = parse_time(at, shown.rate.rate)
    if not 0 <= at_s < shown.length_s:
        raise DocumentError.expected("--at", f"a time from 0 up to {shown.length_s:g} s", at)
    paths = formats_of([to_file], still=True)
    settings = _settings(
        format=next(iter(paths)), quality=quality, scale=scale, at_s=at_s, transparent=transparent,
        leave_out_backdrops=without_backdrops, gaps="mark" if go_on else "stop",
    )  # fmt: skip
    resolved = SceneEvaluator(document, shown.id).at(at_s) if "svg" in paths else None
    for each in notes_of(shown, settings, checked(shown, settings), False, resolved):
        err.print("[yellow]note:[/yellow]", escape(each), soft_wrap=True)
    result = _render(folder, document, shown, settings, paths)
    if result.notice:
        err.print(f"[yellow]note:[/yellow] {result.notice}", soft_wrap=True)
    out.print(f"{to_file}: {result.width} x {result.height}", soft_wrap=True)


app.command()(kit)
app.command()(typefaces)


@app.command()
def plan(
    project: ProjectArgument,
    scene: SceneArgument,
    at: Annotated[str, typer.Option(help="Moment, e.g. 1.5, 36f, 00:01:12")] = "0",
    scale: ScaleOption = 1.0,
    data: DataOption = None,
) -> None:
    """Tells how one frame of a scene is drawn: its passes, their regions, what is kept."""
    folder = _opened(data, writing=False)
    document = _find(folder, project)
    shown = _scene(document, scene)
    number = min(shown.rate.rate.frame_at(parse_time(at, shown.rate.rate)), shown.frame_count - 1)
    library = MediaLibrary(folder.assets, drawings=folder.assets)
    resolved = SceneEvaluator(document, shown.id, library=library).frame(number)
    size = output_size(shown.width, shown.height, scale)
    out.print(f"frame {number} of {shown.name}, {size[0]} x {size[1]}", highlight=False)
    for line in plan_lines(plan_frame(resolved, size, library)):
        out.print(escape(line), highlight=False, soft_wrap=True)


@app.command("export-project")
def export_project(project: ProjectArgument, to_file: OutOption, data: DataOption = None) -> None:
    """Writes a project with its assets as one zip."""
    folder = _opened(data, writing=False)
    document = _find(folder, project)
    format_among(to_file, "zip")
    with out.status("Packing..."):
        write_archive(document, folder.assets, to_file)
    out.print(f"{to_file}: {to_file.stat().st_size / 2**20:.1f} MB", soft_wrap=True)


@app.command("import-project")
def import_project(
    file: Annotated[Path, typer.Argument(help="A zip written by export-project")],
    mend: Annotated[
        bool, typer.Option("--mend", help="Clamp or leave out what fails the checks")
    ] = False,
    data: DataOption = None,
) -> None:
    """Adds a project from a zip; it gets a new id where its own is taken."""
    folder = _opened(data, what="import-project")
    if not file.is_file():
        raise NotFoundError(f"there is no file {file}")
    with out.status("Checking..."):
        imported = read_archive(file, folder.assets, mend=mend)
        state = folder.workspace.add(imported.project, new_id())
    for each in imported.notes:
        err.print("[yellow]note:[/yellow]", escape(each), soft_wrap=True)
    out.print(f"Imported {state.project.name!r} as {state.project.id}")


@app.command()
def notes(
    project: ProjectArgument,
    scene: SceneArgument,
    file: Annotated[Path, typer.Argument(help="Notes that a review page has saved (.json)")],
    data: DataOption = None,
) -> None:
    """Lays a client's notes at marks of a scene."""
    folder = _opened(data, what="notes")
    found = _find(folder, project)
    edit = NotesToMarks(scene=_scene(found, scene).id, file=read_notes(file))
    change = folder.workspace.edit(found.id, edit)
    count = len(edit.file.notes)
    out.print(f"{count} note{'' if count == 1 else 's'} in {change.state.project.name!r}")


def _settings(**values: Any) -> RenderSettings:
    try:
        return RenderSettings(**values)
    except ValidationError as error:
        raise from_validation(error) from error


def _rate(text: str) -> dict[str, int]:
    """A frame rate as a fraction."""
    rate = Rate.parse(text)
    return {"num": rate.num, "den": rate.den}


def _preset(project: Project, name: str) -> RenderPreset:
    """A preset by its id or name."""
    for each in project.presets:
        if each.id == name or each.name.casefold() == name.casefold():
            return each
    known = ", ".join(repr(each.name) for each in project.presets) or "none"
    raise NotFoundError(f"there is no preset {name!r} (there are: {known})", field="--preset")


def _layer(scene: Scene, name: str) -> str:
    """The id of a layer by its id or name."""
    found = [la.id for la in scene.layers if la.id == name] or [
        la.id for la in scene.layers if la.name.casefold() == name.casefold()
    ]
    if len(found) != 1:
        words = "several layers are" if found else "no layer is"
        raise NotFoundError(f"{words} called {name!r} in this scene", field="--layers")
    return found[0]


def _render(
    folder: DataFolder,
    project: Project,
    scene: Scene,
    settings: RenderSettings,
    targets: dict[str, Path],
) -> Any:
    columns = (
        TextColumn("[progress.description]{task.description}"),
        BarColumn(),
        MofNCompleteColumn(),
        TextColumn("frames"),
        TimeRemainingColumn(),
    )
    with Progress(*columns, console=err, transient=True) as bar:
        task = bar.add_task(scene.name, total=None)
        return render_scene(
            project,
            scene.id,
            settings,
            targets,
            folder.assets_dir,
            engine=LocalProcesses(Config().render_processes),
            progress=lambda done, total: bar.update(task, completed=done, total=total),
        )


if __name__ == "__main__":
    main()
