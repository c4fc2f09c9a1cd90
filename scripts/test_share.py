"""How much of the code is tests: ``make lint`` fails when the share falls below the floor."""

import subprocess
import sys
from pathlib import Path

FLOOR = 0.25  # only ever raised; the aim is a quarter to a third
_ROOT = Path(__file__).parent.parent
_GENERATED = "web/src/api/schema.d.ts"


def lines(path: Path) -> int:
    """Lines that are neither empty nor comments."""
    stripped = (line.strip() for line in path.read_text(encoding="utf-8").splitlines())
    return sum(1 for line in stripped if line and not line.startswith(("#", "//")))


def main() -> None:
    """Print the share; exit with 1 below the floor."""
    listed = subprocess.run(
        ["git", "ls-files", "-co", "--exclude-standard", "*.py", "*.ts", "*.tsx"],
        cwd=_ROOT, capture_output=True, text=True, check=True).stdout.split()
    counted = {name: lines(_ROOT / name) for name in listed
               if name != _GENERATED and (_ROOT / name).exists()}
    tests = sum(count for name, count in counted.items()
                if name.startswith("tests/") or ".test." in name)
    share = tests / sum(counted.values())
    print(f"== tests: {tests} of {sum(counted.values())} lines of code, {share:.1%} "
          f"(at least {FLOOR:.1%})")
    sys.exit(0 if share >= FLOOR else 1)


if __name__ == "__main__":
    main()
