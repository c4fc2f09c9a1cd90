"""The API's description, from which the web application's types are made."""

import json
import sys
from typing import Any

from fastapi import FastAPI

_MEDIA = "application/problem+json"
_SCHEMA = {
    "title": "ProblemDetails", "type": "object",
    "description": "Why a request was not answered, in words (RFC 9457).",
    "properties": {"type": {"type": "string"}, "title": {"type": "string"},
                   "status": {"type": "integer"}, "detail": {"type": "string"}},
    "required": ["type", "title", "status", "detail"],
}
# Every operation may be refused in these ways.
_REFUSALS = {
    400: "The request cannot be understood.", 403: "The request came from another site.",
    404: "There is no such thing.", 409: "It has changed meanwhile.",
    411: "The request does not say how long it is.", 413: "It is too large.",
    415: "The file cannot be read.", 422: "It does not fit, or was refused.",
    503: "The server is busy; nothing was changed.",
    507: "There is no room on the disk or in memory; nothing was changed.",
}


def describe(app: FastAPI) -> None:
    """Have the description say how operations refuse."""
    plain = app.openapi

    def described() -> dict[str, Any]:
        if app.openapi_schema is None:
            schema = plain()
            schemas = schema["components"]["schemas"]
            schemas["ProblemDetails"] = _SCHEMA
            for name in ("HTTPValidationError", "ValidationError"):
                schemas.pop(name, None)
            problem = {"content": {_MEDIA: {"schema": {
                "$ref": "#/components/schemas/ProblemDetails"}}}}
            schema["components"]["responses"] = {
                f"Refused{status}": {"description": why, **problem}
                for status, why in _REFUSALS.items()}
            for operations in schema["paths"].values():
                for operation in operations.values():
                    operation["responses"].update({
                        str(status): {"$ref": f"#/components/responses/Refused{status}"}
                        for status in _REFUSALS})
        return app.openapi_schema or {}

    app.openapi = described  # type: ignore[method-assign]


def main() -> None:
    """Write OpenAPI JSON to standard output."""
    from wardrobe.server.app import create_app

    json.dump(create_app().openapi(), sys.stdout, indent=1, sort_keys=True)


if __name__ == "__main__":
    main()
