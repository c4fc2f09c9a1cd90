"""A running server with the built web application."""

from collections.abc import Iterator

import pytest
from playwright.sync_api import expect

from tests.serving import serving

expect.set_options(timeout=30_000)


@pytest.fixture(scope="module", autouse=True)
def _browser(browser_kept: None) -> None:
    """Pages are asked for in every test here."""


@pytest.fixture(scope="module")
def address(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    with serving(tmp_path_factory.mktemp("data")) as address:
        yield address
