"""Sequences as files: timelines and edit decision lists out and in, versions as a table."""

from __future__ import annotations

import asyncio
import re
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query, Request
from starlette.responses import Response

from ..core.document import Format
from ..core.sequence import Bundle, read_bundle, read_table, write_bundle, write_table
from ..core.sequence.exchange import read_edit, write_edit_list, write_timeline
from ..store.history import one
from ..store.sequences import SEQUENCES, create_sequence
from ..store.shots import create_shot
from .archives import renamed_sequence
from .problems import PROBLEMS
from .sequences import opened_sequence
from .services import Behind
from .shots import Made, Revised

router = APIRouter(tags=["sequences"], responses=PROBLEMS)

FILE = {
    "requestBody": {"required": True, "content": {"application/octet-stream": {"schema": {"type": "string"}}}}
}


@router.get("/sequences/{sequence}/file", response_class=Response)
def export_sequence(
    behind: Behind,
    sequence: UUID,
    kind: Annotated[Literal["json", "otio", "edl"], Query()] = "json",
) -> Response:
    """The sequence with its shots as a file that ``dreizack render`` reads; as a timeline
    (OpenTimelineIO); or as an edit decision list of its line (SMPTE ST 258)."""
    row, bundle = opened_sequence(behind, sequence)
    text, media = {
        "json": (write_bundle, "application/json"),
        "otio": (write_timeline, "application/json"),
        "edl": (write_edit_list, "text/plain; charset=utf-8"),
    }[kind]
    return _attached(text(bundle), media, row.sequence.name, kind)


@router.post("/productions/{production}/sequences/files", status_code=201, openapi_extra=FILE)
async def import_sequence(
    behind: Behind, request: Request, production: UUID, name: Annotated[str, Query(max_length=120)] = ""
) -> Made:
    """Add a sequence from a timeline or an edit decision list: pieces find the shots of the production by
    their names; or from a sequence file, whose shots come with it. A damaged file is refused and nothing is
    stored."""
    data = await request.body()

    def bring() -> Made:
        one(behind.store.row("production_read", id=production), "production")
        if b'"dreizack_sequence"' in data[:200]:
            return Made(id=_with_its_shots(behind, production, read_bundle(data)))
        rows = behind.store.rows("shot_list", production=production)
        shots = {row["name"]: (str(row["id"]), Format(**row["format"])) for row in rows}
        return Made(id=create_sequence(behind.store, production, read_edit(data, name, shots)))

    return await asyncio.to_thread(bring)


def _with_its_shots(behind: Behind, production: UUID, bundle: Bundle) -> UUID:
    """A sequence that was made of a file; all of it or nothing."""
    with behind.store.together() as on:
        ids = {
            name: str(create_shot(behind.store, production, shot, on)) for name, shot in bundle.shots.items()
        }
        made = create_sequence(behind.store, production, renamed_sequence(bundle.sequence, ids), on)
    behind.store.tell("production", id=str(production))
    return made


@router.get("/sequences/{sequence}/versions/table", response_class=Response)
def export_versions(behind: Behind, sequence: UUID) -> Response:
    """The table of versions (CSV)."""
    row, bundle = opened_sequence(behind, sequence)
    # With its mark, so that spreadsheets read it as UTF-8.
    return _attached(
        "\ufeff" + write_table(bundle), "text/csv; charset=utf-8", f"{row.sequence.name} versions", "csv"
    )


@router.post("/sequences/{sequence}/versions/table", openapi_extra=FILE)
async def import_versions(behind: Behind, request: Request, sequence: UUID) -> Revised:
    """Take all versions from a table (CSV); one that cannot be read is refused and changes nothing."""
    data = await request.body()

    def bring() -> Revised:
        row, bundle = opened_sequence(behind, sequence)
        versions = [version.model_dump(mode="json") for version in read_table(data, bundle)]
        patch = [{"op": "replace", "path": "/versions", "value": versions}]
        revision, _ = SEQUENCES.edited(behind.store, sequence, row.revision, patch, None)
        return Revised(revision=revision)

    return await asyncio.to_thread(bring)


def _attached(text: str, media: str, name: str, suffix: str) -> Response:
    plain = re.sub(r"[^A-Za-z0-9]+", "-", name).strip("-").lower() or "sequence"
    headers = {"Content-Disposition": f'attachment; filename="{plain}.{suffix}"'}
    return Response(text, media_type=media, headers=headers)
