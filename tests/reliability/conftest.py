"""The same server as for the tests of routes."""

from tests.server.conftest import client, settings

__all__ = ["client", "settings"]
