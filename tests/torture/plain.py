"""A plain installation, as somebody makes it who only uses Wardrobe."""

import subprocess
import sys
from pathlib import Path
from typing import Any

_ROOT = Path(__file__).parents[2]
_IMPORT_ALL = """
import importlib, pkgutil, wardrobe
names = [m.name for m in pkgutil.walk_packages(wardrobe.__path__, "wardrobe.")
         if not m.name.endswith((".env", "__main__"))]
for name in names:
    importlib.import_module(name)
print(len(names))
"""


def plain_install(folder: Path) -> dict[str, Any]:
    """Install into a fresh environment and import everything; return figures."""
    def run(*command: str | Path) -> subprocess.CompletedProcess[str]:
        return subprocess.run(command, capture_output=True, text=True, check=False, cwd=folder)

    folder.mkdir()
    run(sys.executable, "-m", "venv", folder / "venv")
    python = folder / "venv" / "bin" / "python"
    installed = run(python, "-m", "pip", "install", "--quiet", _ROOT)
    if installed.returncode:
        return {"wrong": [installed.stderr[-1500:]]}
    tried = run(python, "-c", _IMPORT_ALL)
    told = run(python.with_name("wardrobe"), "--version")
    wrong = [r.stderr[-1500:] for r in (tried, told) if r.returncode]
    return {"modules": tried.stdout.strip(), "version": told.stdout.strip(), "wrong": wrong}
