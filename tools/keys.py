"""Writes the table of keys in README.md from the editor's list of commands. ``--check`` only tells
whether it is as it would be written."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

from playwright._impl._driver import compute_driver_executable

ROOT = Path(__file__).resolve().parent.parent
COMMANDS = ROOT / "src/young_comet/web/static/js/editor/commands/index.js"
START, END = "<!-- keys: written by tools/keys.py -->\n", "<!-- end of keys -->\n"


def groups() -> list[dict[str, Any]]:
    """The groups of commands, as the page's module describes them."""
    node = compute_driver_executable()
    node = node[0] if isinstance(node, tuple) else node
    ask = f"import({json.dumps(COMMANDS.as_uri())}).then((m) => console.log(JSON.stringify(m.described())))"
    done = subprocess.run([str(node), "-e", ask], capture_output=True, text=True, check=True)
    found: list[dict[str, Any]] = json.loads(done.stdout)
    return found


def table() -> str:
    """A table of all keys in Markdown, group by group."""
    rows = ["| Keys | |", "| --- | --- |"]
    for group in groups():
        keyed = [each for each in group["commands"] if each["keys"]]
        if keyed:
            rows.append(f"| **{group['label']}** | |")
        for each in keyed:
            keys = ", ".join(f"`{keys}`" for keys in [each["keys"], *each["also"]])
            rows.append(f"| {keys} | {each['label']} |")
    return "\n".join(rows) + "\n"


def written(readme: str) -> str:
    """README's text with the table as it is now."""
    before, rest = readme.split(START)
    _, after = rest.split(END)
    return before + START + table() + END + after


def main() -> int:
    path = ROOT / "README.md"
    old = path.read_text()
    new = written(old)
    if "--check" in sys.argv:
        return int(old != new)
    path.write_text(new)
    return 0


if __name__ == "__main__":
    sys.exit(main())
