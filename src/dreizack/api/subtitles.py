"""Subtitles to words over time, and back."""

from __future__ import annotations

import re
from typing import Literal
from uuid import UUID

from fastapi import APIRouter, Request
from starlette.responses import Response

from ..core.exchange.subtitles import read_subtitles, subtitles_of, with_subtitles, write_subtitles
from ..store import shots as store
from .library import FILE
from .offers import NO_SUCH_THING, Offered, changed_by
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading

router = APIRouter(tags=["shots"], responses=PROBLEMS)

TYPES = {"srt": "application/x-subrip", "vtt": "text/vtt"}


@router.post("/shots/{shot}/subtitles", openapi_extra=FILE)
async def bring_subtitles(behind: Behind, request: Request, shot: UUID) -> Offered:
    """A title whose words are those of subtitles (SRT, WebVTT), each when it is to be read."""
    data = await request.body()

    def bring() -> Offered:
        cues = read_subtitles(data)
        return changed_by(behind, shot, lambda now: with_subtitles(now, cues), NO_SUCH_THING)

    return await reading(bring)


@router.get("/shots/{shot}/subtitles/{kind}", response_class=Response)
def subtitles(behind: Behind, shot: UUID, kind: Literal["srt", "vtt"]) -> Response:
    """What the titles of a shot say when, as subtitles."""
    found = store.read_shot(behind.store, shot).shot
    name = re.sub(r"[^A-Za-z0-9]+", "-", found.name).strip("-").lower() or "shot"
    headers = {"Content-Disposition": f'attachment; filename="{name}.{kind}"'}
    return Response(write_subtitles(subtitles_of(found), kind), media_type=TYPES[kind], headers=headers)
