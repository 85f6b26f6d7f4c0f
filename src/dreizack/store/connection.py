"""The store: a pool of connections and the rooms that speak through it."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

from psycopg import Connection, OperationalError, connect
from psycopg.rows import dict_row
from psycopg_pool import ConnectionPool, PoolTimeout

from .queries import QUERIES

Row = dict[str, Any]
# Seconds to wait for a connection, and between looks whether a database that was away is back.
PATIENCE, RETRY = 1.5, 0.4


class Store:
    """Runs named queries; one call is one transaction unless inside :meth:`together`.

    While the database is away every call fails at once (OperationalError); that it is back is seen within a
    second.
    """

    def __init__(self, address: str, size: int = 8) -> None:
        self.address, self.size = address, size
        self.pool = self._new_pool()
        self._away = threading.Event()
        self._closed = False
        self._lock = threading.Lock()

    def _new_pool(self) -> ConnectionPool[Connection[Row]]:
        return ConnectionPool(
            self.address,
            min_size=1,
            max_size=self.size,
            kwargs={"row_factory": dict_row, "connect_timeout": 2},
            open=True,
            timeout=PATIENCE,
            check=ConnectionPool.check_connection,
        )

    @contextmanager
    def _connection(self) -> Iterator[Connection[Row]]:
        if self._away.is_set():
            raise OperationalError("the database is away")
        try:
            with self.pool.connection() as connection:
                yield connection
        except (OperationalError, PoolTimeout) as why:
            if isinstance(why, PoolTimeout) or lost(why):
                self._watch()
            raise

    def _watch(self) -> None:
        """Try, beside everything else, until the database answers; then begin with a new pool."""
        with self._lock:
            if self._away.is_set() or self._closed or self._answers():
                return
            self._away.set()
        threading.Thread(target=self._await_return, daemon=True, name="database").start()

    def _await_return(self) -> None:
        while not self._closed and not self._answers():
            time.sleep(RETRY)
        # A pool that has failed for long tries again only after long pauses.
        old, self.pool = self.pool, self._new_pool()
        self._away.clear()
        old.close(timeout=0)

    def _answers(self) -> bool:
        try:
            with connect(self.address, connect_timeout=2) as connection:
                connection.execute("SELECT 1")
        except OperationalError:
            return False
        return True

    @contextmanager
    def together(self) -> Iterator[Connection[Row]]:
        """Several queries as one transaction."""
        with self._connection() as connection:
            yield connection

    def rows(self, name: str, /, on: Connection[Row] | None = None, **values: Any) -> list[Row]:
        """All rows of a named query."""
        if on is None:
            with self._connection() as connection:
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
        self._closed = True
        self.pool.close()


def lost(why: OperationalError) -> bool:
    """Whether it is the connection that failed, not what was asked (SQLSTATE class 08, 57P, or none at
    all)."""
    return why.sqlstate is None or why.sqlstate.startswith(("08", "57P"))


def open_store(address: str, size: int = 8) -> Store:
    """Open a store at a PostgreSQL address and wait until it answers."""
    store = Store(address, size)
    store.pool.wait(timeout=15)
    return store
