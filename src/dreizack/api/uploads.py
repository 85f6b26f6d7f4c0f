"""Files that come in, written to disk as they come: none of them is ever whole in memory."""

from __future__ import annotations

import asyncio
import tempfile
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

from fastapi import Request

from ..core.files import say_disk_full

UPLOADS = "uploads"
# Of a request's body, in bytes: an ordinary one, and what is brought to the library by the last part of its address.
ORDINARY = 9 * 1024**2
BROUGHT = 64 * 1024**2
MOST = {"videos": 2_000_000_000, "panoramas": 400_000_000}


def most_bytes(path: str) -> int:
    """How many bytes a request to an address may carry."""
    room, _, kind = path.removeprefix("/api/").partition("/")
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
