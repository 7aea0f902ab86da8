"""The long version of tests/hostile: run by hand, with counts.

    .venv/bin/python tools/torture.py edits --count 20000      operations at random, undone to equal bytes
    .venv/bin/python tools/torture.py media --count 5000       files changed at random
    .venv/bin/python tools/torture.py drawing --places 40      effects, moves and motion on every kind of layer
    .venv/bin/python tools/torture.py kills --count 200        kill -9 while editing and rendering
    .venv/bin/python tools/torture.py api --count 60           schemathesis against the OpenAPI description
    .venv/bin/python tools/torture.py load --seconds 30        30 pages with 10 editors
    .venv/bin/python tools/torture.py disk                     a full disk (as root: it mounts a small one)
    .venv/bin/python tools/torture.py all                      one after another

Everything takes place in folders of its own below the temporary one. The exit code is 1 where
anything went wrong.
"""

from __future__ import annotations

import argparse
import asyncio
import json
import os
import subprocess
import sys
import tempfile
import time
import urllib.error
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from tests.build import png  # noqa: E402
from tests.hostile import drawing_sweep, edit_fuzz, media_fuzz  # noqa: E402
from tests.hostile.server import Server, killed, new_project, set_opacity  # noqa: E402

from young_comet.edits import EDIT_KINDS  # noqa: E402


def told(what: str, troubles: list[str], began: float) -> bool:
    print(f"{what}: {len(troubles)} troubles in {time.monotonic() - began:.0f} s")
    for trouble in troubles[:20]:
        print("   ", trouble[:400])
    return not troubles


def edits(options: argparse.Namespace) -> bool:
    began = time.monotonic()
    tally = edit_fuzz.run(options.seed, options.count)
    least = min((tally.accepted[kind], kind) for kind in EDIT_KINDS)
    print(
        f"{tally.tried} operations of {len(EDIT_KINDS)} kinds, {sum(tally.accepted.values())} accepted "
        f"(fewest: {least[1]}, {least[0]}), {tally.undone} batches undone, slowest {tally.slowest[0]:.2f} s"
    )
    return told("edits", tally.troubles, began)


def media(options: argparse.Namespace) -> bool:
    began = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        found = media_fuzz.run(Path(folder), options.seed, options.count)
    accepted = ", ".join(f"{kind} {count}" for kind, count in sorted(found.accepted.items()))
    print(
        f"{found.tried} files, accepted {sum(found.accepted.values())} ({accepted}); slowest {found.slowest[0]:.1f} s"
    )
    slow = [f"a {found.slowest[1]} took {found.slowest[0]:.1f} s"] if found.slowest[0] > 5 else []
    return told("media", found.troubles + slow, began)


def drawing(options: argparse.Namespace) -> bool:
    began = time.monotonic()
    effects = drawing_sweep.sweep_effects(options.seed, options.places)
    moves = drawing_sweep.sweep_moves()
    motion = drawing_sweep.sweep_motion(options.seed, 10 * options.places)
    print(
        f"{effects.drawn} frames with effects, {moves.drawn} with moves, {motion.drawn} of what moves; "
        f"slowest {motion.slowest[0]:.1f} s ({motion.slowest[1]})"
    )
    return told("drawing", effects.troubles + moves.troubles + motion.troubles, began)


def kills(options: argparse.Namespace) -> bool:
    began = time.monotonic()
    with tempfile.TemporaryDirectory() as folder:
        troubles = killed(Path(folder) / "data", options.count, options.seed)
    print(f"{options.count} kills")
    return told("kills", troubles, began)


def api(options: argparse.Namespace) -> bool:
    """schemathesis is installed beside the program, from a lock of its own."""
    began = time.monotonic()
    place = ROOT / ".venv-torture"
    if not (place / "bin" / "schemathesis").exists():
        subprocess.run([sys.executable, "-m", "venv", str(place)], check=True)
        lock = str(ROOT / "tools" / "torture.lock")
        subprocess.run(
            [str(place / "bin" / "pip"), "install", "-q", "--require-hashes", "-r", lock],
            check=True,
        )
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder) / "data", previews=0)
        new_project(server)
        done = subprocess.run(
            [str(place / "bin" / "schemathesis"), "run", f"{server.address}/api/openapi.json", "--checks",
             "not_a_server_error", "--max-examples", str(options.count), "--seed", str(options.seed), "--request-timeout",
             "10", "--phases", "examples,coverage,fuzzing", "--no-color"],
            capture_output=True, text=True, cwd=folder,
        )  # fmt: skip
        lively = server.process.poll() is None
        server.terminate()
    print("\n".join(done.stdout.splitlines()[-25:]))
    troubles = (
        []
        if done.returncode == 0
        else [f"schemathesis ended with {done.returncode}: {done.stdout[-3000:]}"]
    )
    return told("api", troubles + ([] if lively else ["the server ended"]), began)


async def _page(
    server: Server, project: str, until: float, seen: dict[str, int], troubles: list[str]
) -> None:
    import websockets

    address = server.address.replace("http", "ws") + f"/live/{project}/reveal"
    revision, number = 0, 0
    async with websockets.connect(address, origin=server.address, max_size=None) as socket:  # type: ignore[arg-type]
        await socket.send(json.dumps({"type": "stage", "id": 0, "time_s": 0, "height": 180}))
        while time.monotonic() < until:
            try:
                message = await asyncio.wait_for(socket.recv(), 10)
            except TimeoutError:
                troubles.append("a page heard nothing for 10 s")
                return
            if isinstance(message, bytes):
                seen["frames"] += 1
                number += 1
                await asyncio.sleep(0.05)
                asked = {"type": "stage", "id": number, "time_s": number % 20, "height": 180}
                await socket.send(json.dumps(asked))
                continue
            header = json.loads(message)
            if header["type"] == "edited":
                if revision and header["revision"] != revision + 1:
                    troubles.append(f"revision {header['revision']} came after {revision}")
                revision = header["revision"]
                seen["heard"] += 1
            elif header["type"] == "error":
                troubles.append(f"a page was told: {header['message']}")


def load(options: argparse.Namespace) -> bool:
    began = time.monotonic()
    troubles: list[str] = []
    seen = {"frames": 0, "heard": 0, "edits": 0}
    took: list[float] = []
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder) / "data")
        project = new_project(server)
        until = time.monotonic() + options.seconds

        def editor(number: int) -> None:
            while time.monotonic() < until:
                start = time.monotonic()
                try:
                    set_opacity(server, project, (number * 7 + seen["edits"]) % 100)
                except (urllib.error.URLError, OSError) as error:
                    troubles.append(f"an edit failed: {error}")
                took.append(time.monotonic() - start)
                seen["edits"] += 1
                time.sleep(0.1)

        async def everybody() -> None:
            pages = [_page(server, project, until, seen, troubles) for _ in range(30)]
            editors = [asyncio.to_thread(editor, number) for number in range(10)]
            await asyncio.gather(*pages, *editors)

        asyncio.run(everybody())
        ended = server.terminate()
    took.sort()
    print(
        f"{options.seconds} s: {seen['edits']} edits (median {took[len(took) // 2] * 1000:.0f} ms, 95 % within "
        f"{took[int(len(took) * 0.95)] * 1000:.0f} ms), heard {seen['heard']} times, {seen['frames']} frames; ended in {ended:.1f} s"
    )
    return told("load", troubles, began)


def _fill(path: Path) -> None:
    """Makes a file as large as there is room."""
    file = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_APPEND)
    try:
        while True:
            os.write(file, b"\0" * 4096)
    except OSError:
        os.close(file)


def disk(options: argparse.Namespace) -> bool:
    """Edits and uploads onto a disk of 6 MB until it is full, makes room and goes on."""
    began = time.monotonic()
    troubles: list[str] = []
    with tempfile.TemporaryDirectory() as folder:
        mounted = subprocess.run(
            ["mount", "-t", "tmpfs", "-o", "size=6m", "tmpfs", folder], capture_output=True
        )
        if mounted.returncode:
            print("disk: a small disk cannot be mounted here (root is needed): left out")
            return True
        try:
            server = Server(Path(folder) / "data", previews=0)
            project = new_project(server)
            filler = Path(folder) / "filler"
            refused, revision = 0, 0
            for n in range(3000):
                try:
                    revision = set_opacity(server, project, n % 100 + 0.5)
                except urllib.error.HTTPError as error:
                    body = json.loads(error.read())
                    refused += 1
                    if error.code != 507 or "make room" not in body["error"]["message"]:
                        troubles.append(f"answered {error.code}: {body}")
                    if refused > 5:
                        break
                if n == 20:
                    _fill(filler)
            if not refused:
                troubles.append("the disk never was full")
            try:
                server.ask(
                    "POST", f"/api/projects/{project}/assets?name=k.png", {"x": png(300, 300).hex()}
                )
            except urllib.error.HTTPError as error:
                if error.code not in (415, 507):
                    troubles.append(f"an upload was answered {error.code}")
            filler.unlink()
            if set_opacity(server, project, 1) != revision + 1:
                troubles.append("an edit was lost")
            server.kill()
            again = Server(Path(folder) / "data", previews=0)
            if again.ask("GET", f"/api/projects/{project}")["revision"] != revision + 1:
                troubles.append("after a restart an edit is lost")
            again.terminate()
            print(f"{revision} edits, then {refused} refused in words; went on after room was made")
        finally:
            subprocess.run(["umount", "-l", folder], check=False)
    return told("disk", troubles, began)


DEEDS = {
    "edits": edits,
    "media": media,
    "drawing": drawing,
    "kills": kills,
    "api": api,
    "load": load,
    "disk": disk,
}
COUNTS = {"edits": 20_000, "media": 5_000, "kills": 200, "api": 60}


def main() -> int:
    parser = argparse.ArgumentParser(
        description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter
    )
    parser.add_argument("what", choices=[*DEEDS, "all"])
    parser.add_argument("--count", type=int)
    parser.add_argument("--places", type=int, default=40)
    parser.add_argument("--seconds", type=float, default=30)
    parser.add_argument("--seed", type=int, default=1)
    options = parser.parse_args()
    names = list(DEEDS) if options.what == "all" else [options.what]
    given, fine = options.count, True
    for name in names:
        options.count = given or COUNTS.get(name, 0)
        fine = DEEDS[name](options) and fine
    return 0 if fine else 1


if __name__ == "__main__":
    sys.exit(main())
