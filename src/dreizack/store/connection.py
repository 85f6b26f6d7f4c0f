"""The store: a pool of connections and the rooms that speak through it."""

from __future__ import annotations

import json
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from psycopg import Connection
from psycopg.rows import dict_row
from psycopg_pool import ConnectionPool

from .queries import QUERIES

Row = dict[str, Any]


class Store:
    """Runs named queries; one call is one transaction unless inside :meth:`together`."""

    def __init__(self, address: str, size: int = 8) -> None:
        self.address = address
        self.pool: ConnectionPool[Connection[Row]] = ConnectionPool(
            address, min_size=1, max_size=size, kwargs={"row_factory": dict_row}, open=True, timeout=10,
            check=ConnectionPool.check_connection,
        )

    @contextmanager
    def together(self) -> Iterator[Connection[Row]]:
        """Several queries as one transaction."""
        with self.pool.connection() as connection:
            yield connection

    def rows(self, name: str, /, on: Connection[Row] | None = None, **values: Any) -> list[Row]:
        """All rows of a named query."""
        if on is None:
            with self.pool.connection() as connection:
                return self.rows(name, on=connection, **values)
        cursor = on.execute(QUERIES[name].encode(), values)
        return cursor.fetchall() if cursor.description else []

    def row(self, name: str, /, on: Connection[Row] | None = None, **values: Any) -> Row | None:
        """The first row, or None."""
        found = self.rows(name, on=on, **values)
        return found[0] if found else None

    def tell(self, kind: str, /, on: Connection[Row] | None = None, **facts: Any) -> None:
        """Tell every process that listens."""
        self.rows("notify", on=on, message=json.dumps({"kind": kind, **facts}))

    def close(self) -> None:
        self.pool.close()


def open_store(address: str, size: int = 8) -> Store:
    """Open a store at a PostgreSQL address and wait until it answers."""
    store = Store(address, size)
    store.pool.wait(timeout=15)
    return store
