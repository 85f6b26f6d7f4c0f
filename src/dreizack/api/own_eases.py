"""Eases people keep under a name."""

from __future__ import annotations

from fastapi import APIRouter
from pydantic import BaseModel

from ..core.document import Ease
from ..store import saved as kept
from .names import SavedName
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["keeping"], responses=PROBLEMS)


class SavedEase(BaseModel):
    name: str
    ease: Ease


@router.get("/library/eases")
def eases(behind: Behind) -> list[SavedEase]:
    """Eases that were kept."""
    return [SavedEase(name=name, ease=ease) for name, ease in kept.saved_eases(behind.store).items()]


@router.put("/library/eases/{name}")
def keep_ease(behind: Behind, name: SavedName, ease: Ease) -> SavedEase:
    """Keep an ease; one of the same name is replaced, keys that were given it stay as they are."""
    kept.save_ease(behind.store, name, ease)
    return SavedEase(name=name, ease=ease)


@router.delete("/library/eases/{name}", status_code=204)
def forget_ease(behind: Behind, name: SavedName) -> None:
    """Forget an ease; keys that were given it stay as they are."""
    kept.forget(behind.store, "ease", name)
