"""Settings of all tests."""

from collections.abc import Iterator

import pytest
from hypothesis import settings

from tests.chromium import one_browser

# The first call of a kernel may compile it: no example is late. The same examples every time: a
# failure must come from the change that is tested.
settings.register_profile("wardrobe", deadline=None, derandomize=True)
settings.load_profile("wardrobe")


@pytest.fixture(scope="module")
def browser_kept() -> Iterator[None]:
    """One browser for all tests of a file; each page has a profile of its own."""
    with one_browser():
        yield
