"""Other machines that trace frames of deliveries: they ask here, and bring here what they traced."""

from __future__ import annotations

import asyncio
import zlib
from typing import Annotated
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Path, Query, Request
from numpy.typing import NDArray
from pydantic import BaseModel, Field
from starlette.responses import FileResponse, Response

from .. import __version__
from ..core.document import Shot
from ..core.files import say_disk_full
from ..core.library import find
from ..core.media.shelf import LASTING
from ..core.scene import RENDER_VERSION
from ..core.sequence.production_file import needed_files
from ..store import NotThere
from ..store.connection import Row
from ..store.fleet import GONE, HELD
from .names import Name
from .offers import Wish
from .problems import PROBLEMS, problem
from .services import Behind

router = APIRouter(tags=["fleet"], responses=PROBLEMS)

# What both sides must agree about.
SAME = f"{__version__} {RENDER_VERSION}"
KEY = Annotated[str, Path(pattern=r"^[0-9a-f]{32}$")]


Run = Annotated[str, Field(pattern=r"^[0-9a-f]{0,16}$")]


def _who(name: str, run: str) -> str:
    """What claims of a helper are held by."""
    return f"{name} #{run}"


class Helper(Wish):
    """A machine by its name, its version, and which helper it is: there may be several on it, or one after
    another; ``holds``: the picture it is bringing back."""

    name: Name
    run: Run = ""
    version: str = Field(max_length=80)
    holds: str = Field("", max_length=80)


class FrameToTrace(BaseModel):
    """A picture: the order it belongs to, the frame of the shot (with parts), and what it is called."""

    key: str
    order: UUID
    at: float


class OrderToTrace(BaseModel):
    """A shot (as JSON), size and quality of its pictures, and the files it needs, with their sizes."""

    document: str
    width: int
    height: int
    quality: str
    files: dict[str, int]


class Machine(BaseModel):
    """A machine that helps: how many pictures it did, how long one takes, and what it is at now."""

    name: str
    frames: int
    seconds: float
    helps: bool
    at_it: int


class Fleet(BaseModel):
    """All machines that helped within a day."""

    machines: list[Machine]
    left: int


@router.get("/fleet")
def fleet(behind: Behind) -> Fleet:
    """Who helps, and how many pictures wait for somebody."""
    rows = behind.store.rows("fleet_machines")
    left = behind.store.row("fleet_left")
    return Fleet(
        machines=[
            Machine(
                name=row["name"],
                frames=row["frames"],
                seconds=row["seconds"] / row["frames"] if row["frames"] else 0.0,
                helps=row["ago"] < GONE,
                at_it=row["at_it"],
            )
            for row in rows
        ],
        left=left["left"] if left else 0,
    )


@router.post("/fleet/take", response_model=FrameToTrace | None)
def take(behind: Behind, wish: Helper) -> FrameToTrace | Response | None:
    """The next picture that nobody is at; nothing where there is none."""
    if wish.version != SAME:
        return problem(
            409,
            "Another version",
            f"this machine runs '{wish.version}', the one it would help runs '{SAME}'; install the same",
        )
    who = _who(wish.name, wish.run)
    behind.store.rows("fleet_forgotten", who=who, holds=wish.holds)
    behind.store.rows("fleet_seen", who=who, name=wish.name, seconds=HELD)
    row = behind.store.row("fleet_take", who=who, seconds=HELD, part_of=None)
    return None if row is None else FrameToTrace(key=row["key"], order=row["part_of"], at=row["at"])


@router.post("/fleet/alive", status_code=204)
def alive(behind: Behind, wish: Helper) -> None:
    """What a machine is at stays its own."""
    behind.store.rows("fleet_seen", who=_who(wish.name, wish.run), name=wish.name, seconds=HELD)


@router.get("/fleet/orders/{order}")
def order(behind: Behind, order: UUID) -> OrderToTrace:
    """What pictures of an order are made of."""
    row = behind.store.row("fleet_read", id=order)
    if row is None:
        raise NotThere("this order is not shared out any more")
    names = needed_files({"shot": Shot.model_validate_json(row["document"])}, {})
    # What belongs to a typeface goes with it.
    names += [name.removesuffix(".font") + ".json" for name in names if name.endswith(".font")]
    there = {name: path.stat().st_size for name in names if (path := find(name)) is not None}
    return OrderToTrace(
        document=row["document"],
        width=row["width"],
        height=row["height"],
        quality=row["quality"],
        files=there,
    )


@router.get("/fleet/files/{name}", response_class=Response)
def file(name: str) -> Response:
    """A file of the library, named by its content."""
    path = find(name)
    if path is None:
        raise NotThere("there is no such file in the library")
    return FileResponse(path, media_type="application/octet-stream")


@router.put("/fleet/frames/{key}", status_code=204, response_class=Response)
async def bring(
    behind: Behind,
    request: Request,
    key: KEY,
    name: Annotated[str, Query(min_length=1, max_length=120)],
    run: Annotated[str, Query(pattern=r"^[0-9a-f]{0,16}$")] = "",
    # Light and coverage, and what a catcher takes.
    channels: Annotated[int, Query(ge=4, le=5)] = 4,
    took: Annotated[float, Query(ge=0, le=100_000)] = 0.0,
) -> Response:
    """Take a picture that a machine traced: rows of half floats, deflated (zlib); whoever was too late is
    told so, and nothing is changed."""
    who = _who(name, run)
    row = await asyncio.to_thread(behind.store.row, "fleet_held", key=key, who=who)
    if row is None:
        return problem(409, "Not yours any more", "somebody else is at this picture, or it is there already")
    size = row["height"] * row["width"] * channels * 2
    data = await _whole(request, size)
    if data is None:
        await asyncio.to_thread(behind.store.rows, "fleet_let_go", key=key, who=who)
        return problem(422, "No such picture", f"{size} bytes of half floats were expected")
    picture = np.frombuffer(data, np.float16).reshape(row["height"], row["width"], channels)
    if not np.isfinite(picture).all():
        await asyncio.to_thread(behind.store.rows, "fleet_let_go", key=key, who=who)
        return problem(422, "No such picture", "there are numbers in it that are none")
    await asyncio.to_thread(_keep, behind, key, row, picture.astype(np.float32))
    await asyncio.to_thread(behind.store.rows, "fleet_did", name=name, took=took)
    return Response(status_code=204)


async def _whole(request: Request, size: int) -> bytes | None:
    """The body, inflated as it comes and never beyond its size; None where it is not of that size."""
    inflating, parts, got = zlib.decompressobj(), [], 0
    try:
        async for block in request.stream():
            part = inflating.decompress(block, size - got + 1)
            got += len(part)
            parts.append(part)
            if got > size or inflating.unconsumed_tail:
                return None
    except zlib.error:
        return None
    return b"".join(parts) if got == size and inflating.eof else None


def _keep(behind: Behind, key: str, row: Row, picture: NDArray[np.float32]) -> None:
    """As if it had been traced here."""
    frames, width = behind.kept_frames, picture.shape[1]
    with say_disk_full(behind.data):
        frames.put(key, picture)
        frames.note(row["passed"], key, width)
        if row["quality"] in LASTING and row["named"]:
            frames.note(row["named"], key, width)
    behind.store.rows("fleet_done", key=key)
