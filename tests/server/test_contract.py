"""Every route keeps to what it says of itself, whatever is asked.

Requests are made from the OpenAPI document by Schemathesis; a refusal is RFC 9457 problem details.
"""

from collections.abc import Iterator
from pathlib import Path

import httpx
import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from tests.server.steps import new_piece
from tests.server.test_layered import delivered, taken_in
from tests.serving import serving
from tests.tries import tries

# One of each there is; all other numbers are of things that there are not.
_THERE = {"piece_id": 1, "file_id": 1, "character_id": 1, "template_id": 1}
_PROMISES = [not_a_server_error, status_code_conformance, content_type_conformance,
             response_schema_conformance]


@pytest.fixture(scope="module")
def api(tmp_path_factory: pytest.TempPathFactory) -> Iterator[schemathesis.BaseSchema]:
    with serving(tmp_path_factory.mktemp("data")) as address, \
            httpx.Client(base_url=address, timeout=60) as client:
        piece = new_piece(client)
        _, data = delivered(client, piece["id"], format="ora")
        taken_in(client, data)
        client.post("/api/characters", json={"name": "Pim", "card": []})
        client.post("/api/stack-templates", json={"name": "mine", "piece": piece["id"]})
        yield schemathesis.openapi.from_url(f"{address}/api/openapi.json")


def _promised(case: schemathesis.Case) -> None:
    for name, number in _THERE.items():
        if name in (case.path_parameters or {}):
            case.path_parameters[name] = number
    answer = case.call(timeout=60)
    case.validate_response(answer, checks=_PROMISES)
    if answer.status_code >= 400:
        assert answer.headers["content-type"] == ["application/problem+json"]
        told = answer.json()
        assert told["status"] == answer.status_code and told["title"] and told["detail"]
        assert Path.cwd().as_posix() not in answer.text  # nothing of the machine is told


def test_routes_keep_their_promises(api: schemathesis.BaseSchema) -> None:
    """Deleting is asked by the tests of each thing that can be deleted."""
    operations = [found.ok() for found in api.exclude(method="DELETE").get_all_operations()]
    assert len(operations) >= 55
    for operation in operations:
        ask = given(case=operation.as_strategy())(_promised)
        settings(max_examples=tries(3, 12), deadline=None, phases=[Phase.explicit, Phase.generate],
                 derandomize=True, database=None, suppress_health_check=list(HealthCheck))(ask)()
