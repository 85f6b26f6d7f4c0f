"""A shot proofed before it is ordered: by its arrays at once, by its pictures in a process of its own."""

from __future__ import annotations

import asyncio
import json
import logging
import re
import sys
import tempfile
from pathlib import Path
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field, ValidationError
from starlette.responses import Response

from ..core.document import write_shot
from ..core.files import say_disk_full
from ..core.proof import Place, checked, report
from ..core.proof.paper import report_pdf
from ..store import NotThere
from ..store import shots as store
from .library import LIBRARY
from .problems import PROBLEMS
from .services import Behind
from .traced import Unanswered

router = APIRouter(tags=["proof"], responses=PROBLEMS)
log = logging.getLogger(__name__)

# Seconds after which looking at pictures is given up, and how many do so at once.
LONGEST = 900
_looking = asyncio.Semaphore(1)


class ProofWish(BaseModel):
    """Of which frames; with ``pictures`` what is seen and heard is looked at too, which takes a while."""

    model_config = ConfigDict(extra="forbid")
    first: int = Field(0, ge=0, le=200_000)
    last: int | None = Field(None, ge=0, le=200_000)
    pictures: bool = False


class Found(BaseModel):
    """Something to look at: in which thing, at which frame, how much it matters, in words; ``picture`` is the
    frame, small (JPEG as a data address), where pictures were looked at; of a sequence the version and the
    shot that is seen there."""

    thing: str
    frame: int
    kind: str
    matters: str
    says: str
    picture: str = ""
    version: str = ""
    shot: str = ""


@router.post("/shots/{shot}/proof")
async def proof_shot(behind: Behind, shot: UUID, wish: ProofWish) -> list[Found]:
    """What is to be looked at in a shot before it is ordered."""
    row = await asyncio.to_thread(store.read_shot, behind.store, shot)
    frames = row.shot.format.frames
    if wish.first >= frames:
        raise NotThere(f"the shot has {frames} frames")
    if not wish.pictures:
        found = await asyncio.to_thread(checked, row.shot, wish.first, wish.last)
        return [
            Found(thing=one.thing, frame=one.frame, kind=one.kind, matters=one.matters, says=one.says)
            for one in found
        ]
    with say_disk_full(behind.data), tempfile.TemporaryDirectory(dir=behind.data) as folder:
        last = frames - 1 if wish.last is None else max(wish.first, wish.last)
        return await looked(behind, Path(folder), write_shot(row.shot), ["--frames", f"{wish.first}-{last}"])


Kind = Annotated[Literal["html", "pdf"], Query(description="A page, or one on paper.")]


@router.get("/shots/{shot}/proof/report", response_class=Response)
def shot_report(behind: Behind, shot: UUID, kind: Kind = "html") -> Response:
    """What is to be looked at in a shot, as a file to be sent along."""
    found = store.read_shot(behind.store, shot).shot
    return reported(found.name, [Place.of(one) for one in checked(found)], kind)


def reported(name: str, places: list[Place], kind: str) -> Response:
    """Findings as a file."""
    file = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "proof"
    headers = {"Content-Disposition": f'attachment; filename="{file}-proof.{kind}"'}
    if kind == "pdf":
        return Response(report_pdf(name, places), media_type="application/pdf", headers=headers)
    return Response(report(name, places), media_type="text/html", headers=headers)


async def looked(behind: Behind, folder: Path, document: str, more: list[str]) -> list[Found]:
    """Findings of a shot or a sequence, its pictures looked at, that a process of its own tells line by line;
    ``more`` says what of it."""
    file = folder / "proofed.json"
    file.write_text(document, encoding="utf-8")
    # What is brought is looked for beside the file.
    (folder / "library").symlink_to((behind.data / LIBRARY).resolve(), target_is_directory=True)
    async with _looking:
        return await _told(["proof", str(file), "--json", "--pictures", *more])


async def _told(command: list[str]) -> list[Found]:
    process = await asyncio.create_subprocess_exec(
        sys.executable,
        "-m",
        "dreizack",
        *command,
        stdin=asyncio.subprocess.DEVNULL,
        stdout=asyncio.subprocess.PIPE,
        stderr=asyncio.subprocess.PIPE,
    )
    try:
        told, said = await asyncio.wait_for(process.communicate(), LONGEST)
    except TimeoutError:
        raise Unanswered("looking at the pictures took too long; choose fewer frames") from None
    finally:
        # Whoever asked may have gone.
        if process.returncode is None:
            process.kill()
    try:
        return [
            Found.model_validate(
                {name: value for name, value in json.loads(line).items() if name in Found.model_fields}
            )
            for line in told.decode().splitlines()
        ]
    except (ValueError, ValidationError) as why:
        log.error("proofing ended with %s: %s", process.returncode, said.decode(errors="replace")[-2000:])
        raise Unanswered("the pictures could not be looked at; try again") from why
