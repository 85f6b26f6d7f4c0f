"""Productions."""

from __future__ import annotations

from datetime import datetime
from typing import Literal
from uuid import UUID

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict

from ..core.document import Format, Rate
from ..core.sequence import read_sequence
from ..store.shots import one
from .names import Name
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["productions"], responses=PROBLEMS)


class Named(BaseModel):
    model_config = ConfigDict(extra="forbid")
    name: Name


class Production(BaseModel):
    id: UUID
    name: str
    created: datetime
    changed: datetime


class ProductionCard(Production):
    shots: int
    poster_shot: UUID | None


class ShotCard(BaseModel):
    id: UUID
    production: UUID
    revision: int
    name: str
    format: Format
    created: datetime
    changed: datetime


class SequenceCard(BaseModel):
    """A sequence as it is listed: its size, rate, frames, and the shots on its line, in order."""

    id: UUID
    production: UUID
    revision: int
    name: str
    width: int
    height: int
    rate: Rate
    total: int
    line: list[str]
    created: datetime
    changed: datetime


class Deleted(BaseModel):
    """What was deleted, and may be brought back."""

    kind: Literal["production", "shot", "sequence"]
    id: UUID
    name: str
    deleted: datetime


class ProductionPage(Production):
    shots: list[ShotCard]
    sequences: list[SequenceCard]


@router.get("/productions")
def list_productions(behind: Behind) -> list[ProductionCard]:
    """All productions, latest work first."""
    return [ProductionCard(**row) for row in behind.store.rows("production_list")]


@router.post("/productions", status_code=201)
def create_production(behind: Behind, wish: Named) -> Production:
    """A new, empty production."""
    return _told(behind, one(behind.store.row("production_create", name=wish.name), "production"))


@router.get("/productions/{production}")
def read_production(behind: Behind, production: UUID) -> ProductionPage:
    """A production and its shots."""
    row = one(behind.store.row("production_read", id=production), "production")
    shots = [ShotCard(**shot) for shot in behind.store.rows("shot_list", production=production)]
    sequences = [_sequence(found) for found in behind.store.rows("sequence_list", production=production)]
    return ProductionPage(**row, shots=shots, sequences=sequences)


def _sequence(row: dict) -> SequenceCard:  # type: ignore[type-arg]
    document = read_sequence(row.pop("document"))
    line = [piece.shot for piece in document.line if piece.kind == "shot"]
    return SequenceCard(
        **row,
        width=document.width,
        height=document.height,
        rate=document.rate,
        total=document.total,
        line=list(dict.fromkeys(line)),
    )


@router.get("/deleted")
def list_deleted(behind: Behind) -> list[Deleted]:
    """Productions that were deleted, latest first, 50 at most."""
    return [Deleted(**row) for row in behind.store.rows("productions_deleted")]


@router.get("/productions/{production}/deleted")
def list_deleted_in(behind: Behind, production: UUID) -> list[Deleted]:
    """Shots and sequences of a production that were deleted, latest first, 50 at most."""
    one(behind.store.row("production_read", id=production), "production")
    return [Deleted(**row) for row in behind.store.rows("deleted_in", production=production)]


@router.patch("/productions/{production}")
def rename_production(behind: Behind, production: UUID, wish: Named) -> Production:
    """Give it another name."""
    return _told(
        behind, one(behind.store.row("production_rename", id=production, name=wish.name), "production")
    )


@router.post("/productions/{production}/copy", status_code=201)
def copy_production(behind: Behind, production: UUID) -> Production:
    """Duplicate it with all its shots."""
    row = one(behind.store.row("production_read", id=production), "production")
    name = f"{row['name'][:110]} copy"
    return _told(behind, one(behind.store.row("production_copy", id=production, name=name), "production"))


@router.delete("/productions/{production}", status_code=204)
def delete_production(behind: Behind, production: UUID) -> None:
    """Delete it; ``restore`` takes that back."""
    one(behind.store.row("production_delete", id=production), "production")
    behind.store.tell("production", id=str(production))


@router.post("/productions/{production}/restore")
def restore_production(behind: Behind, production: UUID) -> Production:
    """Take a deletion back."""
    return _told(behind, one(behind.store.row("production_restore", id=production), "deleted production"))


def _told(behind: Behind, row: dict) -> Production:  # type: ignore[type-arg]
    behind.store.tell("production", id=str(row["id"]))
    return Production(**row)
