"""What tests share: shots to work on, and a throwaway database."""

from __future__ import annotations

import itertools
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import numpy as np
import psycopg
import pytest
from hypothesis import HealthCheck, settings

from dreizack.core.document import Body, Camera, Edge, Finish, Format, Setting, Shot, Title, Vector
from dreizack.core.light import key_fill_rim

# The same examples on every run, so that a change is judged by what it changed; EXPLORE=1 looks for new ones.
settings.register_profile(
    "dreizack",
    deadline=None,
    max_examples=40,
    derandomize="EXPLORE" not in os.environ,
    database=None,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.function_scoped_fixture],
)
settings.load_profile("dreizack")

ROOT = Path(__file__).resolve().parent.parent


@pytest.fixture
def shot() -> Shot:
    """A small lit title: quick to trace, quick to deliver."""
    return Shot(
        name="Ebb",
        format=Format(width=320, height=180, frames=12),
        things={"title": Title(words="EBB", setting=Setting(typeface="archivo-black")), **key_fill_rim()},
        camera=Camera(position=Vector(x=0.5, y=0.4, z=3.2), aim=Vector(x=0, y=0.25, z=0)),
    )


def plain_title(words: str = "I", **body: object) -> Title:
    """A title without any edge, for truths that are easy to write down."""
    none = Edge(profile="none", reach=0, rise=0)
    return Title(
        words=words,
        body=Body(**{"depth": 0.2, "front": none, "back": none, **body}),
        finish=Finish(metallic=0, roughness=1),
    )


@pytest.fixture(scope="session")
def cluster(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """Address of a private PostgreSQL cluster whose database is migrated and serves as a template."""
    from dreizack.store import migrate
    from dreizack.store.cluster import Cluster
    from dreizack.work import prepare_jobs

    made = Cluster(tmp_path_factory.mktemp("postgres"), throwaway=True)
    address = made.start()
    migrate(address)
    prepare_jobs(address)
    yield address
    made.stop()


_numbers = itertools.count()


@contextmanager
def copied(cluster: str) -> Iterator[str]:
    """A database of its own, copied from the template, as long as it is needed."""
    server, template = cluster.rsplit("/", 1)
    name = f"test_{next(_numbers)}"
    with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
        connection.execute(f"CREATE DATABASE {name} TEMPLATE {template}")
    yield f"{server}/{name}"
    with psycopg.connect(f"{server}/postgres", autocommit=True) as connection:
        connection.execute(f"DROP DATABASE {name} WITH (FORCE)")


@pytest.fixture
def address(cluster: str) -> Iterator[str]:
    """A database of this test's own."""
    with copied(cluster) as made:
        yield made


@pytest.fixture
def store(address: str) -> Iterator[object]:
    from dreizack.store import open_store

    opened = open_store(address, size=4)
    yield opened
    opened.close()


@pytest.fixture
def rng() -> np.random.Generator:
    return np.random.default_rng(20_301_104)
