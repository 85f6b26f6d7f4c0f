"""Names people give, as they come in requests."""

from __future__ import annotations

from typing import Annotated

from fastapi import Path
from pydantic import AfterValidator, Field


def _visible(text: str) -> str:
    """No control characters, and something to see."""
    if not text.isprintable() or not text.strip():
        raise ValueError("use at least one visible character and no control characters")
    return text.strip()


Name = Annotated[str, Field(min_length=1, max_length=120), AfterValidator(_visible)]


def _addressable(text: str) -> str:
    """What is saved under a name is found again by an address that holds it."""
    if "/" in text or text in (".", ".."):
        raise ValueError("a name has no slash in it and is more than dots; write a dash instead")
    return text


SavedName = Annotated[
    str, Path(min_length=1, max_length=60), AfterValidator(_visible), AfterValidator(_addressable)
]
