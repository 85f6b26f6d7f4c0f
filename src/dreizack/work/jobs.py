"""The job queue."""

from __future__ import annotations

from uuid import UUID

import procrastinate
import psycopg

QUEUE = "deliveries"
TASK = "deliver"
SOLVES = "solves"
SOLVE = "solve"


def job_app(address: str) -> procrastinate.App:
    """A queue on this database; workers add the tasks."""
    return procrastinate.App(connector=procrastinate.PsycopgConnector(conninfo=address))


def prepare_jobs(address: str) -> None:
    """Create the queue's own tables where they are missing."""
    with psycopg.connect(address) as connection:
        if connection.execute("SELECT to_regclass('procrastinate_jobs')").fetchone() != (None,):
            return
    with procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=address)).open() as app:
        app.schema_manager.apply_schema()


def defer_delivery(app: procrastinate.App, delivery: UUID) -> None:
    """Queue a delivery; ``app`` is open on a synchronous connector."""
    app.configure_task(TASK, queue=QUEUE, lock=str(delivery)).defer(delivery=str(delivery))


def defer_solve(app: procrastinate.App, solve: UUID) -> None:
    """Queue a solve; ``app`` is open on a synchronous connector."""
    app.configure_task(SOLVE, queue=SOLVES, lock=str(solve)).defer(solve=str(solve))
