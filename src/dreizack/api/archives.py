"""Productions as archives: taken away whole, and opened again, here or elsewhere."""

from __future__ import annotations

import asyncio
import json
import re
import tempfile
from dataclasses import replace
from pathlib import Path
from uuid import UUID

from fastapi import APIRouter, Request
from pydantic import BaseModel
from starlette.background import BackgroundTask
from starlette.responses import FileResponse, Response

from ..core.document import Shot
from ..core.document.plain_text import CONTROL
from ..core.document.stored import stored_shot
from ..core.files import say_disk_full
from ..core.sequence import Sequence, read_sequence
from ..core.sequence.production_file import ProductionFile, read_production, write_production
from ..store import NotThere
from ..store.saved import add_look, saved_looks
from ..store.sequences import create_sequence
from ..store.shots import create_shot, one
from ..store.shots import read_shot as read_stored
from ..store.takes import all_of as takes_of
from ..store.takes import write as write_take
from .library import FILE, LIBRARY
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading, upload

router = APIRouter(tags=["productions"], responses=PROBLEMS)


class ArchiveOpened(BaseModel):
    """The production that was made of an archive; ``lost`` are files that it lacks, ``looks`` those that were
    saved with it: those of a name that was taken stay as they are here."""

    id: UUID
    name: str
    shots: int
    sequences: int
    lost: list[str]
    looks: list[str] = []


@router.get("/productions/{production}/archive", response_class=Response)
async def take_away(behind: Behind, production: UUID) -> Response:
    """A production as one file, with everything from the library that it needs."""
    return await asyncio.to_thread(lambda: _written(behind, _production(behind, production)))


@router.get("/shots/{shot}/archive", response_class=Response)
async def take_shot_away(behind: Behind, shot: UUID) -> Response:
    """A shot with its takes as one file, with everything from the library that it needs: a production of one
    shot."""
    return await asyncio.to_thread(lambda: _written(behind, _alone(behind, shot)))


def _alone(behind: Behind, shot: UUID) -> ProductionFile:
    found = read_stored(behind.store, shot).shot
    name = str(shot)
    return ProductionFile(found.name, {name: found}, {}, takes={name: takes_of(behind.store, shot)})


def _production(behind: Behind, production: UUID) -> ProductionFile:
    row = one(behind.store.row("production_read", id=production), "production")
    shots = {
        str(found["id"]): stored_shot(found["document"], found["schema"])
        for found in behind.store.rows("production_shots", production=production)
    }
    sequences = {
        str(found["id"]): read_sequence(json.loads(found["document"]))
        for found in behind.store.rows("production_sequences", production=production)
    }
    takes: dict[str, dict[str, Shot]] = {}
    for found in behind.store.rows("production_takes", production=production):
        shot = stored_shot(found["document"], found["schema"])
        takes.setdefault(str(found["shot"]), {})[found["name"]] = shot
    return ProductionFile(row["name"], shots, sequences, takes=takes)


def _written(behind: Behind, production: ProductionFile) -> Response:
    """The answer that holds it, with the looks that its titles wear."""
    saved = saved_looks(behind.store)
    whole = replace(
        production, looks={name: saved[name] for name in sorted(production.worn) if name in saved}
    )
    with (
        say_disk_full(behind.data),
        tempfile.NamedTemporaryFile(dir=behind.data, prefix="archive-", delete=False) as held,
    ):
        try:
            write_production(whole, held)
        except BaseException:
            Path(held.name).unlink(missing_ok=True)
            raise
    plain = re.sub(r"[^a-z0-9]+", "-", production.name.lower()).strip("-") or "production"
    made = Path(held.name)
    return FileResponse(
        made,
        media_type="application/zip",
        filename=f"{plain}.zip",
        background=BackgroundTask(made.unlink, missing_ok=True),
    )


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
        for key, takes in found.takes.items():
            for take, shot in takes.items():
                write_take(behind.store, UUID(ids[key]), take, shot, 0, on)
        looks = [look for look, kept in found.looks.items() if add_look(behind.store, look, kept, on)]
        for key, sequence in inmost_first(found.sequences):
            ids[key] = str(create_sequence(behind.store, row["id"], renamed_sequence(sequence, ids), on))
    behind.store.tell("production", id=str(row["id"]))
    return ArchiveOpened(
        id=row["id"],
        name=name,
        shots=len(found.shots),
        sequences=len(found.sequences),
        lost=list(found.lost),
        looks=looks,
    )


def inmost_first(sequences: dict[str, Sequence]) -> list[tuple[str, Sequence]]:
    """Sequences by their names, each after those within it; what holds itself comes last."""
    left, found = dict(sequences), []
    while left:
        ready = [name for name, one in left.items() if not any(other in left for other in one.sequences)]
        found += [(name, left.pop(name)) for name in ready or list(left)]
    return found


def renamed_sequence(sequence: Sequence, ids: dict[str, str]) -> Sequence:
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
