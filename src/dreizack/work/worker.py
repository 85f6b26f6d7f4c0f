"""The worker process: ``python -m dreizack.work.worker``."""

from __future__ import annotations

import asyncio
import logging
import os
from pathlib import Path
from uuid import UUID

import procrastinate
from procrastinate import JobContext, RetryStrategy

from ..core.render import Stopped
from ..store import Store, open_store
from .jobs import QUEUE, SOLVE, SOLVES, TASK, job_app
from .logs import log_to
from .orphans import die_with_supervisor
from .rendering import Renderer, RendererLost
from .solving import Solver

HEARTBEAT = 1.0
STALLED_AFTER = 4.0
LOOK_FOR_LOST = 1.5
LOG = logging.getLogger(__name__)
MOST_LOSSES = 4

# A delivery that was let go goes back into the queue: it is resumed after a restart.
AGAIN = RetryStrategy(retry_exceptions={Stopped, RendererLost})


async def work(address: str, data: Path) -> None:
    """Work until told to stop; jobs of workers that died are taken over."""
    store = open_store(address, size=2)
    renderer, solver = Renderer(address, data), Solver(store, data)
    app = job_app(address)

    @app.task(name=TASK, queue=QUEUE, pass_context=True, retry=AGAIN)
    async def deliver(context: JobContext, delivery: str) -> None:
        try:
            await renderer.render(UUID(delivery), context.should_abort)
        except asyncio.CancelledError:
            # The worker is told to stop and will not wait longer.
            renderer.close()
            raise Stopped from None
        except RendererLost:
            if _give_up(store, UUID(delivery)):
                return
            raise

    @app.task(name=SOLVE, queue=SOLVES, pass_context=True, retry=AGAIN)
    async def solve(context: JobContext, solve: str) -> None:
        if not await solver.solve(UUID(solve), context.should_abort):
            raise Stopped

    async with app.open_async():
        watch = asyncio.create_task(_take_over(app, store))
        # Solves do not wait for deliveries; told to stop is the one that renders.
        solves = asyncio.create_task(_run(app, SOLVES, listens=False))
        try:
            await _run(app, QUEUE, listens=True)
        finally:
            watch.cancel()
            solves.cancel()
            await asyncio.gather(solves, return_exceptions=True)
            renderer.close()
            store.close()


async def _run(app: procrastinate.App, queue: str, listens: bool) -> None:
    await app.run_worker_async(
        queues=[queue],
        concurrency=1,
        install_signal_handlers=listens,
        fetch_job_polling_interval=2.0,
        update_heartbeat_interval=HEARTBEAT,
        stalled_worker_timeout=STALLED_AFTER,
        shutdown_graceful_timeout=5.0,
        delete_jobs="successful",
    )


def _give_up(store: Store, delivery: UUID) -> bool:
    """Whether a delivery has cost too many renderers without getting on; it is then marked as failed."""
    row = store.row("delivery_lost", id=delivery)
    if row is None or row["losses"] < MOST_LOSSES:
        return False
    why = "the renderer was lost again and again, most likely for want of memory; order a smaller size"
    store.rows("delivery_fail", id=delivery, why=why)
    store.tell("delivery", id=str(delivery))
    return True


async def _take_over(app: procrastinate.App, store: Store) -> None:
    """Put back, again and again, what a lost worker was doing, and what no job stands for any more."""
    while True:
        try:
            await _put_back(app, store)
        except Exception:
            # The database may be away, and is back later; without this task lost deliveries would stay lost.
            LOG.exception("lost deliveries could not be looked for; trying again")
        await asyncio.sleep(LOOK_FOR_LOST)


async def _put_back(app: procrastinate.App, store: Store) -> None:
    for row in await asyncio.to_thread(store.rows, "delivery_orphans"):
        task = app.configure_task(TASK, queue=QUEUE, lock=str(row["id"]))
        await task.defer_async(delivery=str(row["id"]))
    for row in await asyncio.to_thread(store.rows, "solve_orphans"):
        task = app.configure_task(SOLVE, queue=SOLVES, lock=str(row["id"]))
        await task.defer_async(solve=str(row["id"]))
    for queue in (QUEUE, SOLVES):
        for job in await app.job_manager.get_stalled_jobs(queue=queue, seconds_since_heartbeat=STALLED_AFTER):
            LOG.info("job %s lost its worker; it is taken up again", job.id)
            await app.job_manager.retry_job(job)


def main() -> None:
    die_with_supervisor()
    log_to(Path(os.environ["DREIZACK_DATA"]), "worker")
    # A delivery let go on the way out is no error worth a page of text.
    logging.getLogger("procrastinate.worker").setLevel(logging.CRITICAL)
    asyncio.run(work(os.environ["DREIZACK_DATABASE"], Path(os.environ["DREIZACK_DATA"])))


if __name__ == "__main__":
    main()
