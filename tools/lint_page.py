"""Lints the page's modules with the node that Playwright brings along; see tools/eslint/run.mjs."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

from playwright._impl._driver import compute_driver_executable

ROOT = Path(__file__).resolve().parent.parent


def main() -> int:
    node = compute_driver_executable()
    node = node[0] if isinstance(node, tuple) else node
    tests = sorted(str(path.relative_to(ROOT)) for path in (ROOT / "tests" / "page").glob("*.py"))
    command = [str(node), "tools/eslint/run.mjs", "src/young_comet/web/static/js", *tests]
    return subprocess.run(command, cwd=ROOT).returncode


if __name__ == "__main__":
    sys.exit(main())
