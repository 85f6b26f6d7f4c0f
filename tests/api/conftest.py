from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from dreizack.api.app import create_app


@pytest.fixture
def client(address: str, tmp_path: Path) -> Iterator[TestClient]:
    with TestClient(
        create_app(address, tmp_path, web=None, looking=False),
        base_url="http://127.0.0.1",
        raise_server_exceptions=False,
    ) as made:
        yield made


@pytest.fixture
def production(client: TestClient) -> str:
    return client.post("/api/productions", json={"name": "SLACK WATER"}).json()["id"]


FORMAT = {"width": 320, "height": 180, "rate": {"num": 25, "den": 1}, "frames": 20}


@pytest.fixture
def made(client: TestClient, production: str) -> str:
    return client.post(
        f"/api/productions/{production}/shots", json={"name": "Ebb", "format": FORMAT, "words": "EBB"}
    ).json()["id"]
