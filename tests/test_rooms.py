"""The rooms of the house: a room imports only from rooms to the inside of it."""

from __future__ import annotations

import ast
import unittest
from pathlib import Path

ROOT = Path(__file__).parents[1] / "sandscale"
# Each room, and the rooms it may look into.
INWARD = {
    "core": set(),
    "settings": set(),
    "typefaces": set(),
    "__main__": {"core", "services", "settings", "store", "web"},
    "formats": {"core", "typefaces"},
    "store": {"core", "settings"},
    "reports": {"core", "typefaces"},
    "services": {"core", "formats", "store", "reports", "settings"},
    "web": {"core", "formats", "store", "services", "settings"},
    "demo": {"core", "formats", "store", "services"},
}
# Inside the core: numbers know nothing of what is built on them.
CORE_INWARD = {
    "refusals": set(),
    "documents": {"refusals"},
    "findings": set(),
    "numbers": {"refusals"},
    "columns": set(),
    "figures": {"refusals", "findings", "numbers"},
    "bars": {"refusals", "findings", "numbers", "columns"},
    "structure": {"refusals", "findings", "numbers"},
    "ground": {"refusals", "documents", "findings", "numbers"},
    "measurers": {"refusals", "findings", "numbers", "bars", "ground"},
    "makeups": {"refusals", "findings", "numbers", "bars", "structure", "measurers"},
    "words": set(),
    "pricing": {"refusals", "documents", "findings", "numbers", "columns", "words"},
    "shelf": {"refusals", "bars", "ground", "makeups", "pricing"},
    "checks": {"refusals", "findings", "numbers", "figures", "bars", "makeups", "pricing"},
}
OUTSIDE_THE_CORE = {
    "flask",
    "peewee",
    "playhouse",
    "psycopg",
    "spectree",
    "xlsxwriter",
    "pypdfium2",
    "PIL",
    "reportlab",
    "gunicorn",
    "os",
    "pathlib",
    "socket",
    "time",
    "subprocess",
}


def imports(file: Path) -> list[str]:
    """What a file imports, as full dotted names."""
    package = ["sandscale", *file.relative_to(ROOT).parts[:-1]]
    found = []
    for node in ast.walk(ast.parse(file.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            found += [alias.name for alias in node.names]
        elif isinstance(node, ast.ImportFrom):
            base = package[: len(package) - node.level + 1] if node.level else []
            names = [*base, *([node.module] if node.module else [])]
            found += [
                ".".join([*names, alias.name]) if not node.module else ".".join(names) for alias in node.names
            ]
    return found


def arrows(folder: Path, prefix: str, rooms: dict[str, set[str]]) -> list[str]:
    """Imports from one of the rooms into a room it may not look into."""
    wrong = []
    for file in sorted(folder.rglob("*.py")):
        room = file.relative_to(folder).parts[0].removesuffix(".py")
        if room == "__init__":
            continue
        for name in imports(file):
            target = name.removeprefix(prefix).split(".")[0] if name.startswith(prefix) else room
            if target != room and target not in rooms[room]:
                wrong.append(f"{file.relative_to(ROOT)} imports {name}")
    return wrong


class Rooms(unittest.TestCase):
    def test_every_arrow_points_inward(self) -> None:
        self.assertEqual(arrows(ROOT, "sandscale.", INWARD), [])

    def test_every_arrow_inside_the_core_points_inward(self) -> None:
        self.assertEqual(arrows(ROOT / "core", "sandscale.core.", CORE_INWARD), [])

    def test_an_outward_arrow_would_be_seen(self) -> None:
        self.assertTrue(arrows(ROOT, "sandscale.", {**INWARD, "services": {"core"}}))

    def test_the_core_knows_no_interface_database_file_or_clock(self) -> None:
        for file in (ROOT / "core").rglob("*.py"):
            foreign = {name.split(".")[0] for name in imports(file)} & OUTSIDE_THE_CORE
            self.assertEqual(foreign, set(), file)

    def test_every_room_says_what_it_is(self) -> None:
        for file in ROOT.rglob("*.py"):
            if file.stat().st_size:
                self.assertTrue(ast.get_docstring(ast.parse(file.read_text("utf-8"))), file)


if __name__ == "__main__":
    unittest.main()
