"""How many random cases a test tries: a few in `make test`, many in `make thorough`."""

import os

THOROUGH = os.environ.get("WARDROBE_THOROUGH") == "1"


def tries(few: int, many: int) -> int:
    """The number of cases for this run."""
    return many if THOROUGH else few
