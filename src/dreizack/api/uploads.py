"""Files that come in, written to disk as they come: none of them is ever whole in memory."""

from __future__ import annotations

import asyncio
import functools
import tempfile
from collections.abc import AsyncIterator, Callable
from concurrent.futures import ThreadPoolExecutor
from contextlib import asynccontextmanager
from pathlib import Path
from typing import ParamSpec, TypeVar

from fastapi import Request

from ..core.files import say_disk_full

P = ParamSpec("P")
T = TypeVar("T")
UPLOADS = "uploads"
# Readers of foreign files at once.
READERS = 2
# Of a request's body, in bytes: an ordinary one, and what is brought to the library by the last part of its
# address.
ORDINARY = 9 * 1024**2
BROUGHT = 64 * 1024**2
# A traced picture of the largest size there is.
TRACED = 700_000_000
MOST = {
    "plates": 2_000_000_000,
    "files": 2_000_000_000,
    "videos": 2_000_000_000,
    "sounds": 1_000_000_000,
    "panoramas": 400_000_000,
    "productions": 16_000_000_000,
}


def most_bytes(path: str) -> int:
    """How many bytes a request to an address may carry."""
    room, _, kind = path.removeprefix("/api/").partition("/")
    if room == "fleet" and kind.startswith("frames/"):
        return TRACED
    if room == "shots" and kind.endswith("/camera/file"):
        return BROUGHT
    return MOST.get(kind, BROUGHT) if room == "library" else ORDINARY


@asynccontextmanager
async def upload(request: Request, data: Path) -> AsyncIterator[Path]:
    """The body of a request as a file that is gone afterwards; DiskFull where there is no room for it."""
    folder = data / UPLOADS
    with say_disk_full(data):
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.NamedTemporaryFile(dir=folder) as file:
            async for block in request.stream():
                # Small blocks go to the system's cache; large files must not hold up everybody else.
                await asyncio.to_thread(file.write, block)
            await asyncio.to_thread(file.flush)
            yield Path(file.name)


_readers = ThreadPoolExecutor(READERS, "readers")


async def reading(read: Callable[P, T], *args: P.args, **words: P.kwargs) -> T:
    """Run a reader of foreign files; few at once, so that slow ones never keep others from looking and
    editing."""
    return await asyncio.get_running_loop().run_in_executor(_readers, functools.partial(read, *args, **words))
