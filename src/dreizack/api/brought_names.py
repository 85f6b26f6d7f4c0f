"""What the files of the library were called where they came from."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Path
from pydantic import BaseModel, ConfigDict, Field

from ..core.document.plain_text import Line
from ..core.files import say_disk_full
from ..core.library import call, called, find
from ..store import NotThere
from .library import LIBRARY
from .problems import PROBLEMS
from .services import Behind

router = APIRouter(tags=["library"], responses=PROBLEMS)

File = Annotated[str, Path(max_length=120)]


class BroughtName(BaseModel):
    """What a file was called; empty where nobody said."""

    model_config = ConfigDict(extra="forbid")
    name: Line = Field(max_length=200)


@router.get("/library/names/{file}")
def brought_name(file: File) -> BroughtName:
    """What a file of the library was called where it came from."""
    return BroughtName(name=called(file))


@router.put("/library/names/{file}")
def name_brought(behind: Behind, file: File, wish: BroughtName) -> BroughtName:
    """Note what a file of the library was called where it came from."""
    if find(file) is None:
        raise NotThere("there is no such file in the library")
    with say_disk_full(behind.data):
        call(behind.data / LIBRARY, file, wish.name)
    return wish
