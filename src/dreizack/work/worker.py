"""The worker process: ``python -m dreizack.work.worker``."""

from __future__ import annotations

import asyncio
import logging
import os
import resource
from pathlib import Path
from uuid import UUID

import procrastinate
from procrastinate import JobContext

from ..store import FrameFolder, open_store
from .delivery import Deliveries
from .jobs import QUEUE, TASK, job_app

HEARTBEAT = 1.0
STALLED_AFTER = 4.0
MEMORY = 12 * 1024**3


async def work(address: str, data: Path) -> None:
    """Work until told to stop; jobs of workers that died are taken over."""
    store = open_store(address, size=3)
    deliveries = Deliveries(store, data / "deliveries", FrameFolder(data / "frames"))
    app = job_app(address)

    @app.task(name=TASK, queue=QUEUE, pass_context=True)
    def deliver(context: JobContext, delivery: str) -> None:
        deliveries.run(UUID(delivery), context.should_abort)

    async with app.open_async():
        watch = asyncio.create_task(_take_over(app))
        try:
            await app.run_worker_async(
                queues=[QUEUE], concurrency=1, fetch_job_polling_interval=2.0,
                update_heartbeat_interval=HEARTBEAT, stalled_worker_timeout=STALLED_AFTER,
                shutdown_graceful_timeout=5.0, delete_jobs="successful",
            )
        finally:
            watch.cancel()
            store.close()


async def _take_over(app: procrastinate.App) -> None:
    """Put back what a lost worker was doing."""
    while True:
        for job in await app.job_manager.get_stalled_jobs(queue=QUEUE, seconds_since_heartbeat=STALLED_AFTER):
            logging.warning("job %s lost its worker; it goes on from its kept frames", job.id)
            await app.job_manager.retry_job(job)
        await asyncio.sleep(1.5)


def main() -> None:
    logging.basicConfig(level=logging.WARNING)
    os.nice(10)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    asyncio.run(work(os.environ["DREIZACK_DATABASE"], Path(os.environ["DREIZACK_DATA"])))


if __name__ == "__main__":
    main()
