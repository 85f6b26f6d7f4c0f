"""Productions as archives: taken away whole, and opened again, here or elsewhere."""

from __future__ import annotations

import asyncio
import json
import re
import tempfile
from pathlib import Path
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel
from starlette.background import BackgroundTask
from starlette.responses import FileResponse, Response

from ..core.document.plain_text import CONTROL
from ..core.document.stored import stored_shot
from ..core.files import say_disk_full
from ..core.sequence import Sequence, read_sequence
from ..core.sequence.production_file import ProductionFile, read_production, write_production
from ..store import NotThere
from ..store.sequences import create_sequence
from ..store.shots import create_shot, one
from .library import FILE, LIBRARY
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading, upload

router = APIRouter(tags=["productions"], responses=PROBLEMS)


class ArchiveOpened(BaseModel):
    """The production that was made of an archive; ``lost`` are files that it lacks."""

    id: UUID
    name: str
    shots: int
    sequences: int
    lost: list[str]


@router.get("/productions/{production}/archive", response_class=Response)
async def take_away(behind: Behind, production: UUID) -> Response:
    """A production as one file, with everything from the library that it needs."""
    made, name = await asyncio.to_thread(_written, behind, production)
    return FileResponse(
        made,
        media_type="application/zip",
        filename=f"{name}.zip",
        background=BackgroundTask(made.unlink, missing_ok=True),
    )


def _written(behind: Behind, production: UUID) -> tuple[Path, str]:
    row = one(behind.store.row("production_read", id=production), "production")
    shots = {
        str(found["id"]): stored_shot(found["document"], found["schema"])
        for found in behind.store.rows("production_shots", production=production)
    }
    sequences = {
        str(found["id"]): read_sequence(json.loads(found["document"]))
        for found in behind.store.rows("production_sequences", production=production)
    }
    with (
        say_disk_full(behind.data),
        tempfile.NamedTemporaryFile(dir=behind.data, prefix="archive-", delete=False) as held,
    ):
        try:
            write_production(ProductionFile(row["name"], shots, sequences), held)
        except BaseException:
            Path(held.name).unlink(missing_ok=True)
            raise
    plain = re.sub(r"[^a-z0-9]+", "-", row["name"].lower()).strip("-") or "production"
    return Path(held.name), plain


@router.post("/library/productions", status_code=201, openapi_extra=FILE)
async def open_archive(behind: Behind, request: Request) -> ArchiveOpened:
    """Open an archive as a new production; all of it or nothing."""
    folder = behind.data / LIBRARY
    async with upload(request, behind.data) as file:
        found = await reading(read_production, file, folder)
    return await asyncio.to_thread(_opened, behind, found)


def _opened(behind: Behind, found: ProductionFile) -> ArchiveOpened:
    name = CONTROL.sub("", found.name).strip() or "Production"
    with behind.store.together() as on:
        row = behind.store.row("production_create", on=on, name=name)
        if row is None:
            raise NotThere("the production could not be made")
        ids = {key: str(create_shot(behind.store, row["id"], shot, on)) for key, shot in found.shots.items()}
        for key, sequence in inmost_first(found.sequences):
            ids[key] = str(create_sequence(behind.store, row["id"], _renamed(sequence, ids), on))
    behind.store.tell("production", id=str(row["id"]))
    return ArchiveOpened(
        id=row["id"],
        name=name,
        shots=len(found.shots),
        sequences=len(found.sequences),
        lost=list(found.lost),
    )


def inmost_first(sequences: dict[str, Sequence]) -> list[tuple[str, Sequence]]:
    """Sequences by their names, each after those within it; what holds itself comes last."""
    left, found = dict(sequences), []
    while left:
        ready = [name for name, one in left.items() if not any(other in left for other in one.sequences)]
        found += [(name, left.pop(name)) for name in ready or list(left)]
    return found


def _renamed(sequence: Sequence, ids: dict[str, str]) -> Sequence:
    """A sequence whose shots are called as they are here; pieces of shots that are gone keep their name."""
    made = sequence.model_copy(deep=True)
    for piece in made.pieces:
        piece.shot = ids.get(piece.shot, piece.shot)
        piece.sequence = ids.get(piece.sequence, piece.sequence)
    made.crops = {ids.get(shot, shot): crop for shot, crop in made.crops.items()}
    for version in made.versions:
        version.crops = {ids.get(shot, shot): crop for shot, crop in version.crops.items()}
        texts = {}
        for where, text in version.texts.items():
            shot, _, thing = where.partition("/")
            texts[f"{ids.get(shot, shot)}/{thing}"] = text
        version.texts = texts
    return made
