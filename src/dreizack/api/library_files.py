"""Files of another library, one by one: what a folder with shots has beside them."""

from __future__ import annotations

import os
from pathlib import Path
from typing import Annotated
from uuid import uuid4

from fastapi import APIRouter, Query, Request
from pydantic import BaseModel

from ..core.sequence.kept_files import take_file
from .library import FILE, LIBRARY
from .problems import PROBLEMS
from .services import Behind
from .uploads import reading, upload

router = APIRouter(tags=["library"], responses=PROBLEMS)


class TakenFile(BaseModel):
    """What the file is called here: by its content."""

    file: str


@router.post("/library/files", status_code=201, openapi_extra=FILE)
async def take_library_file(
    behind: Behind, request: Request, name: Annotated[str, Query(min_length=1, max_length=100)]
) -> TakenFile:
    """Take a file of a library, as what its ``name`` says it is, once it was read in a sandbox."""
    folder = behind.data / LIBRARY
    async with upload(request, behind.data) as file:
        return TakenFile(file=await reading(_taken, file, name, folder))


def _taken(file: Path, name: str, folder: Path) -> str:
    folder.mkdir(parents=True, exist_ok=True)
    # The one that came goes by itself.
    held = folder / f".{uuid4().hex}"
    os.link(file, held)
    try:
        return take_file(held, name, folder)
    finally:
        held.unlink(missing_ok=True)
