"""Looking for shots and sequences over all productions."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal
from uuid import UUID

from fastapi import APIRouter, Query
from pydantic import BaseModel

from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["productions"], responses=PROBLEMS)


class Match(BaseModel):
    """A shot or a sequence, the production it belongs to, and the words in it."""

    kind: Literal["shot", "sequence"]
    id: UUID
    name: str
    production: UUID
    of: str
    words: str
    changed: datetime


@router.get("/search")
def search(behind: Behind, text: Annotated[str, Query(min_length=1, max_length=120)]) -> list[Match]:
    """What holds a text in its name, its words, or the name of its production; capitals do not matter."""
    wanted = " ".join(text.replace("\x00", " ").split())
    if not wanted:
        return []
    rows = behind.store.rows("search", text=wanted)
    return [Match(**{**row, "words": row["words"][:200]}) for row in rows]
