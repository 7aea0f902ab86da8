"""What holds for the whole tree."""

import importlib.util
import json
import re
import subprocess
import sys
from pathlib import Path

import grimp

from young_comet.core.model import document_schema
from young_comet.store.database import MIGRATIONS
from young_comet.store.tables import Base

ROOT = Path(__file__).parent.parent
SOURCE = ROOT / "src" / "young_comet"


def test_imports_go_downward_only():
    tool = Path(sys.executable).parent / "lint-imports"
    done = subprocess.run([tool], cwd=ROOT, capture_output=True, text=True)
    assert done.returncode == 0, done.stdout[-2000:]


def test_no_modules_import_each_other_in_a_circle():
    """Imports for types alone count as well: a circle of names is one to whoever reads."""
    graph = grimp.build_graph("young_comet", cache_dir=None)
    order, low, stack, circles = {}, {}, [], []

    def visit(module):
        order[module] = low[module] = len(order)
        stack.append(module)
        for other in graph.find_modules_directly_imported_by(module):
            if other not in order:
                visit(other)
            if other in stack:
                low[module] = min(low[module], low[other])
        if low[module] == order[module]:
            at = stack.index(module)
            circles.append(stack[at:])
            del stack[at:]

    assert len(graph.modules) > 250
    for module in sorted(graph.modules):
        if module not in order:
            visit(module)
    assert [circle for circle in circles if len(circle) > 1] == []


def test_the_committed_schema_is_the_current_one():
    saved = json.loads((ROOT / "docs" / "project.schema.json").read_text())
    assert saved == json.loads(json.dumps(document_schema())), "run tools/schema"


def test_the_migrations_build_exactly_the_declared_tables(folder):
    from sqlalchemy import inspect

    found = inspect(folder.database.engine)
    for table in Base.metadata.sorted_tables:
        columns = {column["name"] for column in found.get_columns(table.name)}
        assert columns == {column.name for column in table.columns}
    assert MIGRATIONS.is_dir()


def test_only_one_module_of_the_pages_talks_to_the_server():
    for file in (SOURCE / "web" / "static" / "js").rglob("*.js"):
        if file.name != "api.js":
            text = file.read_text()
            assert not re.search(r"\bfetch\(|new WebSocket|XMLHttpRequest", text), file


def test_only_the_editor_writes_what_is_previewed():
    for file in (SOURCE / "web" / "static" / "js").rglob("*.js"):
        if file.name != "editor.js" or file.parent.name != "editor":
            assert not re.search(r"\.drafts\s*(=[^=]|\.push)", file.read_text()), file


def test_the_lock_names_no_host_and_every_line_has_a_hash():
    text = (ROOT / "requirements.lock").read_text()
    assert "://" not in text and "--index" not in text and "--find-links" not in text
    pins = [line for line in text.splitlines() if re.match(r"^[a-z0-9]", line)]
    assert pins and all("==" in line and line.endswith("\\") for line in pins)


def test_icons_that_pages_use_are_in_the_sprite():
    sprite = (SOURCE / "web" / "static" / "vendor" / "icons.svg").read_text()
    known = set(re.findall(r'<symbol id="([a-z-]+)"', sprite))
    used = set()
    for file in (SOURCE / "web" / "templates").glob("*.html"):
        used |= set(re.findall(r'm\.ic\("([a-z_-]+)"', file.read_text()))
    assert used and used <= known, used - known


def test_the_committed_picture_of_the_rooms_is_the_current_one():
    found = importlib.util.spec_from_file_location("rooms", ROOT / "tools" / "rooms.py")
    rooms = importlib.util.module_from_spec(found)
    found.loader.exec_module(rooms)
    assert (ROOT / "docs" / "rooms.svg").read_text() == rooms.drawn(), "run tools/rooms.py"
