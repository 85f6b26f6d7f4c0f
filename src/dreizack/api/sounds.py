"""Sounds: brought, played, shown as waves, and their beats as markers."""

from __future__ import annotations

import asyncio
from typing import Any, Literal
from uuid import UUID

import numpy as np
from fastapi import APIRouter, Request
from pydantic import BaseModel, ConfigDict
from starlette.responses import FileResponse, Response

from ..core.document import Shot, without_sound
from ..core.library import find
from ..core.sound import Heard, bring_sound, heard, sound_facts
from ..core.sound.listening import MOMENTS
from ..store import NotThere
from .blocks import BLOCK, pack
from .library import FILE, LIBRARY
from .offers import Offered, changed_by
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading, upload

router = APIRouter(tags=["sounds"], responses=PROBLEMS)
NO_SUCH_SOUND = "there is no such sound; bring it again"


class SoundFile(BaseModel):
    """A sound in the library, by the name its content gives it."""

    file: str
    seconds: float
    channels: int


class SoundMarkersWish(BaseModel):
    """What of a sound is to become markers."""

    model_config = ConfigDict(extra="forbid")
    what: Literal["beats", "onsets"] = "beats"


@router.post("/library/sounds", status_code=201, openapi_extra=FILE)
async def bring(behind: Behind, request: Request) -> SoundFile:
    """Bring a sound (WAV, FLAC, MP3, AAC, Ogg, or that of a video); it is kept as plain samples."""
    async with upload(request, behind.data) as file:
        name = await reading(bring_sound, file, behind.data / LIBRARY)
    facts = await asyncio.to_thread(sound_facts, name)
    assert facts is not None, "a sound that was just kept is there"
    return SoundFile(file=name, seconds=facts.seconds, channels=facts.channels)


@router.get("/library/sounds/{file}", response_class=Response)
def sound(file: str) -> Response:
    """The samples of a sound (WAV)."""
    path = find(file) if file.endswith(".wav") else None
    if path is None:
        raise NotThere(NO_SUCH_SOUND)
    return FileResponse(path, media_type="audio/wav", headers={"Cache-Control": "max-age=86400"})


@router.get("/library/sounds/{file}/heard", response_class=Response)
def listen(file: str) -> Response:
    """What is heard in a sound, so many times a second, as a block: peaks and level; onsets and beats in
    seconds."""
    found = _heard(file)
    facts: dict[str, Any] = {
        "moments": MOMENTS,
        "onsets": found.onsets.tolist(),
        "beats": found.beats.tolist(),
    }
    return Response(pack(facts, {"peaks": found.peaks, "level": found.level}), media_type=BLOCK)


@router.post("/shots/{shot}/sounds/{sound}/markers")
def mark(behind: Behind, shot: UUID, sound: str, wish: SoundMarkersWish) -> Offered:
    """Set a marker at every beat, or onset, of a sound that falls into the shot and has none yet."""

    def marked(now: Shot) -> list[dict[str, Any]]:
        one = now.sounds[sound]
        seconds = np.asarray(getattr(_heard(one.file), wish.what)) - one.skip
        frames = np.round(one.start + seconds[seconds >= 0] * now.format.rate.per_second).astype(int)
        there = {marker.frame for marker in now.markers}
        most = type(now).model_fields["markers"].metadata[0].max_length
        name = wish.what.removesuffix("s")
        new = [f for f in np.unique(frames).tolist() if 0 <= f < now.format.frames and f not in there]
        markers = [m.model_dump(mode="json") for m in now.markers]
        markers += [{"frame": f, "name": name, "note": ""} for f in new[: most - len(markers)]]
        markers.sort(key=lambda marker: marker["frame"])
        return [{"op": "replace", "path": "/markers", "value": markers}] if new else []

    return changed_by(behind, shot, marked, "there is no sound of this name in the shot")


@router.post("/shots/{shot}/sounds/{sound}/remove")
def remove(behind: Behind, shot: UUID, sound: str) -> Offered:
    """Remove a sound from a shot, with what follows it."""
    return changed_by(
        behind, shot, lambda now: without_sound(now, sound), "there is no sound of this name in the shot"
    )


def _heard(file: str) -> Heard:
    found = heard(file)
    if found is None:
        raise NotThere(NO_SUCH_SOUND)
    return found
