"""Print the API's description, from which the web application's types are made."""

import json
import sys

from wardrobe.server.app import create_app


def main() -> None:
    """Write OpenAPI JSON to standard output."""
    json.dump(create_app().openapi(), sys.stdout, indent=1, sort_keys=True)


if __name__ == "__main__":
    main()
