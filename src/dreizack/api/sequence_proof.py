"""Sequences proofed before they are ordered: by their arrays at once, by their pictures in a process of its
own."""

from __future__ import annotations

import asyncio
import tempfile
from pathlib import Path
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import BaseModel, ConfigDict, Field
from starlette.responses import Response

from ..core.files import say_disk_full
from ..core.proof import Place
from ..core.sequence import Bundle, sequence_checked, write_bundle
from .problems import PROBLEMS
from .proof import Found, Kind, looked, reported
from .sequences import named_versions, opened_sequence
from .services import Behind

router = APIRouter(tags=["sequences"], responses=PROBLEMS)


class ToLookAt(BaseModel):
    """Something a check found: in which version and shot, at which frame of the sequence, in words."""

    version: str
    shot: str
    shot_name: str
    thing: str
    frame: int
    kind: str
    matters: Literal["fault", "warning"]
    says: str


class VersionsWish(BaseModel):
    """Versions by their names; none: the sequence as it is."""

    model_config = ConfigDict(extra="forbid")
    versions: list[str] = Field(default_factory=list, max_length=500)


@router.get("/sequences/{sequence}/proof")
def proof(
    behind: Behind, sequence: UUID, versions: Annotated[list[str] | None, Query(max_length=500)] = None
) -> list[ToLookAt]:
    """What is to be looked at before it is ordered, in the versions named."""
    row, bundle = opened_sequence(behind, sequence)
    return [
        ToLookAt(
            version=one.version,
            shot=one.shot,
            shot_name=bundle.shots[one.shot].name,
            thing=one.finding.thing,
            frame=one.frame,
            kind=one.finding.kind,
            matters=one.finding.matters,
            says=one.finding.says,
        )
        for one in sequence_checked(bundle, named_versions(row.sequence, versions or []))
    ]


@router.post("/sequences/{sequence}/proof/pictures")
async def proof_pictures(behind: Behind, sequence: UUID, wish: VersionsWish) -> list[Found]:
    """The same with what is seen and heard, over cuts and transitions, which takes a while."""
    row, bundle = await asyncio.to_thread(opened_sequence, behind, sequence)
    named = named_versions(row.sequence, wish.versions)
    kept = bundle.sequence.model_copy(update={"versions": named})
    document = write_bundle(Bundle(kept, bundle.shots))
    with say_disk_full(behind.data), tempfile.TemporaryDirectory(dir=behind.data) as folder:
        return await looked(behind, Path(folder), document, [])


@router.get("/sequences/{sequence}/proof/report", response_class=Response)
def proof_report(
    behind: Behind,
    sequence: UUID,
    kind: Kind = "html",
    versions: Annotated[list[str] | None, Query(max_length=500)] = None,
) -> Response:
    """The same as a file to be sent along."""
    row, bundle = opened_sequence(behind, sequence)
    places = [
        Place.of(one.finding, one.frame, bundle.shots[one.shot].name, one.version)
        for one in sequence_checked(bundle, named_versions(row.sequence, versions or []))
    ]
    return reported(row.sequence.name, places, kind)
