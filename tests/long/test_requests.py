"""Requests as they come, and as they must not come, from seeds that are new each time."""

from __future__ import annotations

import os
from typing import Any

import pytest
from schemathesis.generation import GenerationMode

from tests.api import test_contract
from tests.api.test_contract import OPERATIONS, send_many

pytestmark = pytest.mark.long
REQUESTS = int(os.environ.get("REQUESTS", "150"))
described = test_contract.described


@pytest.mark.parametrize(("method", "path"), OPERATIONS)
@pytest.mark.parametrize("mode", list(GenerationMode))
def test_requests_of_fresh_seeds_never_make_the_server_fail(
    described: Any, method: str, path: str, mode: GenerationMode
) -> None:
    count = REQUESTS // 10 if "/library/" in path else REQUESTS
    send_many(described, method, path, mode, count, fresh=True)
