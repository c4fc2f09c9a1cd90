"""Small faults put into the code one at a time: do the tests notice?

``python -m scripts.mutants src/wardrobe/recipe/edits 40 tests/recipe tests/core`` changes 40
places, runs the tests given on a copy of the tree, and lists the changes that no test noticed.
"""

import ast
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path

_ROOT = Path(__file__).parent.parent
_SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq, ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult,
    ast.And: ast.Or, ast.Or: ast.And, ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot,
    ast.IsNot: ast.Is}
_PATIENCE_S = 600


class _Faults(ast.NodeTransformer):
    """Counts the places where a fault can be put in, and puts one into the place wanted."""

    def __init__(self, wanted: int) -> None:
        self.wanted, self.count, self.what, self.line = wanted, 0, "", 0

    def _here(self) -> bool:
        self.count += 1
        return self.count - 1 == self.wanted

    def generic_visit(self, node: ast.AST) -> ast.AST:
        self.line = getattr(node, "lineno", self.line)  # operators have none of their own
        super().generic_visit(node)
        if type(node) in _SWAPS and self._here():
            other = _SWAPS[type(node)]()
            self.what = f"near line {self.line}: {type(node).__name__} to {type(other).__name__}"
            return other
        return node

    def visit_Constant(self, node: ast.Constant) -> ast.AST:
        if isinstance(node.value, bool) and self._here():
            self.what = f"line {node.lineno}: {node.value} to {not node.value}"
            return ast.copy_location(ast.Constant(not node.value), node)
        if type(node.value) in (int, float) and self._here():
            self.what = f"line {node.lineno}: {node.value} to {node.value + 1}"
            return ast.copy_location(ast.Constant(node.value + 1), node)
        return node

    def visit_If(self, node: ast.If) -> ast.AST:
        self.generic_visit(node)
        if self._here():
            self.what = f"line {node.lineno}: if not"
            node.test = ast.UnaryOp(ast.Not(), node.test)
        return node

    def visit_Assign(self, node: ast.Assign) -> ast.AST:
        """Constants of a module, as limits and tables, are data rather than rules."""
        return node if node.col_offset == 0 else self.generic_visit(node)

    def visit_AnnAssign(self, node: ast.AnnAssign) -> ast.AST:
        return node if isinstance(node.value, ast.Constant | ast.Call) else self.generic_visit(node)


def _places(folder: Path) -> Iterator[tuple[Path, int]]:
    for file in sorted(folder.rglob("*.py")):
        counter = _Faults(-1)
        counter.visit(ast.parse(file.read_text("utf-8")))
        yield from ((file, k) for k in range(counter.count))


def main(folder: str, most: int, tests: list[str]) -> None:
    """Try ``most`` faults in the modules of a folder."""
    with tempfile.TemporaryDirectory() as scratch:
        tree = Path(scratch) / "tree"
        shutil.copytree(_ROOT, tree, symlinks=True, ignore=shutil.ignore_patterns(
            ".git", ".venv", "node_modules", ".corpus", "data", "__pycache__"))
        places = list(_places(tree / folder))
        random.Random(1).shuffle(places)
        live = []
        for number, (file, k) in enumerate(places[:most], start=1):
            text = file.read_text("utf-8")
            fault = _Faults(k)
            file.write_text(ast.unparse(ast.fix_missing_locations(fault.visit(ast.parse(text)))),
                            "utf-8")
            try:
                run = subprocess.run(
                    [_ROOT / ".venv/bin/python", "-m", "pytest", "-x", "-q", "-p",
                     "no:cacheprovider", *tests], cwd=tree, capture_output=True, check=False,
                    env={"PYTHONPATH": f"{tree / 'src'}:{tree}", "PATH": "/usr/bin:/bin",
                         "HOME": scratch}, timeout=_PATIENCE_S)
                noticed = run.returncode != 0
            except subprocess.TimeoutExpired:
                noticed = True
            file.write_text(text, "utf-8")
            said = f"{file.relative_to(tree)} {fault.what}"
            print(f"{number:3} {'noticed' if noticed else 'LIVES  '} {said}", flush=True)
            if not noticed:
                live.append(said)
        tried = min(most, len(places))
        print(f"{tried - len(live)} of {tried} noticed, of {len(places)} places")


if __name__ == "__main__":
    main(sys.argv[1], int(sys.argv[2]), sys.argv[3:])
