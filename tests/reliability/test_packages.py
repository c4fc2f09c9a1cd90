"""A plain installation has all that is imported."""

import ast
import sys
import tomllib
from importlib.metadata import packages_distributions
from pathlib import Path

ROOT = Path(__file__).parents[2]


def imported() -> dict[str, set[str]]:
    """Top-level modules that the application imports, and where."""
    found: dict[str, set[str]] = {}
    for path in (ROOT / "src").rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            names = [a.name for a in node.names] if isinstance(node, ast.Import) else \
                [node.module or ""] if isinstance(node, ast.ImportFrom) and not node.level else []
            for name in names:
                found.setdefault(name.partition(".")[0], set()).add(path.name)
    return found


def plain(name: str) -> str:
    """The name of a distribution, normalised as PyPA's specification says."""
    return name.lower().replace("_", "-").replace(".", "-")


def test_every_package_that_is_imported_is_declared() -> None:
    told = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    declared = {plain(name) for name in told}
    by_module = packages_distributions()
    own = {"wardrobe", *sys.stdlib_module_names}
    extra = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["optional-dependencies"]
    declared |= {plain(name) for some in extra.values() for name in some}
    missing = {module: sorted(files) for module, files in imported().items() if module not in own
               and not declared & {plain(d) for d in by_module.get(module, [module])}}
    assert not missing


def test_extras_are_imported_only_where_they_are_asked_for() -> None:
    """Without them the application starts and does all but what they are for."""
    extras = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"][
        "optional-dependencies"]
    by_module = packages_distributions()
    modules = {m for m, found in by_module.items()
               if {plain(d) for d in found} & {plain(d) for some in extras.values() for d in some}}
    assert modules == {"distributed"}
    for path in (ROOT / "src").rglob("*.py"):
        for node in ast.parse(path.read_text()).body:
            names = [a.name for a in node.names] if isinstance(node, ast.Import) else \
                [node.module or ""] if isinstance(node, ast.ImportFrom) else []
            assert not modules & {name.partition(".")[0] for name in names}, path


def test_pins_are_of_what_is_declared() -> None:
    told = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["dependencies"]
    pinned = {line.partition("==")[0] for line in
              (ROOT / "requirements" / "app.txt").read_text().splitlines() if "==" in line}
    assert {plain(name) for name in told} <= {plain(name) for name in pinned}
