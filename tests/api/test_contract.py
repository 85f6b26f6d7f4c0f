"""Whatever is sent: never a 5xx, and every refusal in problem details."""

from __future__ import annotations

import os
from collections.abc import Iterator
from typing import Any

import pytest
import schemathesis
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, given, settings
from schemathesis.generation import GenerationMode

from dreizack.api.app import create_app
from dreizack.commands.publish import api_description
from tests.conftest import copied

HERE = {"Host": "127.0.0.1"}
OPERATIONS = sorted(
    (method.upper(), path)
    for path, item in api_description()["paths"].items()
    for method in item
    if method in ("get", "post", "patch", "delete", "put")
)


@pytest.fixture(scope="module")
def described(cluster: str, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Any]:
    with copied(cluster) as address:
        app = create_app(address, tmp_path_factory.mktemp("data"), web=None, looking=False)
        with TestClient(app):
            yield schemathesis.openapi.from_asgi("/api/openapi.json", app, headers=HERE)


@pytest.mark.parametrize(("method", "path"), OPERATIONS)
@pytest.mark.parametrize("mode", list(GenerationMode))
def test_no_request_makes_the_server_fail(
    described: Any, method: str, path: str, mode: GenerationMode
) -> None:
    # Each file brought is read by a process of its own.
    send_many(described, method, path, mode, 3 if "/library/" in path else 10)


def send_many(
    described: Any, method: str, path: str, mode: GenerationMode, count: int, fresh: bool = False
) -> None:
    """Send requests that keep, or break, what an operation describes; none may make the server fail.

    ``fresh``: others on every run.
    """
    operation = described[path][method]
    seen: list[int] = []

    @settings(
        max_examples=count,
        derandomize=not fresh and "EXPLORE" not in os.environ,
        deadline=None,
        suppress_health_check=list(HealthCheck),
        database=None,
    )
    @given(case=operation.as_strategy(generation_mode=mode))
    def send(case: schemathesis.Case) -> None:
        # Foreign files are read in a process of its own, which starts slowly on a busy machine.
        answer = case.call(headers=HERE, timeout=60)
        seen.append(answer.status_code)
        assert answer.status_code < 500, (answer.status_code, answer.text[:400])
        if answer.status_code >= 400 and answer.status_code != 405:
            assert "application/problem+json" in str(answer.headers.get("content-type"))

    try:
        send()
    except Exception as why:
        # Some operations take nothing that could be wrong.
        if "nsatisfi" in type(why).__name__ or "nothing" in str(why).lower():
            pytest.skip("nothing to get wrong here")
        raise
    assert seen
