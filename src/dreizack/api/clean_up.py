"""Files of the library that nothing names any more: shown, and removed when one says so."""

from __future__ import annotations

import re
import time
from pathlib import Path

from fastapi import APIRouter
from pydantic import BaseModel, ConfigDict, Field

from ..core.library import NOTE, forget
from .library import LIBRARY
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["library"], responses=PROBLEMS)

# Files that are named by their content; what else lies there nobody brought.
BROUGHT = re.compile(r"(?:[a-z0-9]+-)*[0-9a-f]{20}\.[a-z0-9]{1,8}")
NAMES = re.compile(r"(?:[a-z0-9]+-)*[0-9a-f]{20}")
# Seconds for which a file is somebody's who has just brought it.
FRESH = 3600.0


class Unused(BaseModel):
    """A file that nothing names, and its bytes."""

    file: str
    bytes: int


class CleanWish(BaseModel):
    """Files that are to go."""

    model_config = ConfigDict(extra="forbid")
    files: list[str] = Field(min_length=1, max_length=5000)


class Cleaned(BaseModel):
    """How many files went, and their bytes; what is used meanwhile stayed."""

    files: int
    bytes: int


@router.get("/library/unused")
def unused(behind: Behind) -> list[Unused]:
    """Files that no shot, take, sequence, saved thing, waiting delivery or step that can be undone names, the
    largest first; those brought within the hour are left alone."""
    return sorted(_unused(behind).values(), key=lambda one: -one.bytes)


@router.post("/library/unused/remove")
def remove_unused(behind: Behind, wish: CleanWish) -> Cleaned:
    """Remove files of those that nothing names; others are left alone."""
    found, gone = _unused(behind), []
    for name in dict.fromkeys(wish.files):
        if name not in found:
            continue
        (behind.data / LIBRARY / name).unlink(missing_ok=True)
        forget(behind.data / LIBRARY, name)
        gone.append(found[name].bytes)
    return Cleaned(files=len(gone), bytes=sum(gone))


def _unused(behind: Behind) -> dict[str, Unused]:
    folder, now = behind.data / LIBRARY, time.time()
    there: dict[str, Path] = {
        path.name: path
        for path in folder.glob("*")
        # Notes go with what they are of.
        if path.is_file() and BROUGHT.fullmatch(path.name) and path.suffix != NOTE
    }
    named: set[str] = set()
    for row in behind.store.rows("documents_that_name"):
        named.update(NAMES.findall(row["text"]))
    found = {}
    for name, path in there.items():
        facts = path.stat()
        # What belongs to a typeface, or was made of a file, has its name.
        if NAMES.match(name)[0] in named or now - facts.st_mtime < FRESH:  # type: ignore[index]
            continue
        found[name] = Unused(file=name, bytes=facts.st_size)
    return found
