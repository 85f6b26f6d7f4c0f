"""Strings of a document: no control characters, which no database keeps and nobody sees."""

from __future__ import annotations

import re
from typing import Annotated, Any

from pydantic import AfterValidator, BeforeValidator

# C0, DEL and C1 (ISO/IEC 6429); lines of words may be broken.
CONTROL = re.compile(r"[\x00-\x1f\x7f-\x9f]")
CONTROL_IN_WORDS = re.compile(r"[\x00-\x09\x0b-\x1f\x7f-\x9f]")


def _one_line(text: str) -> str:
    found = CONTROL.search(text)
    if found:
        raise ValueError(
            f"there is a control character (U+{ord(found[0]):04X}) at place {found.start() + 1}; remove it"
        )
    return text


def _tidy(text: Any) -> Any:
    """Line ends of other systems and tabs, as they come from the clipboard, in one form."""
    return re.sub(r"\r\n?|\u2028|\u2029", "\n", text).replace("\t", " ") if isinstance(text, str) else text


def _lines(text: str) -> str:
    found = CONTROL_IN_WORDS.search(text)
    if found:
        raise ValueError(
            f"there is a control character (U+{ord(found[0]):04X}) at place {found.start() + 1}; remove it"
        )
    return text


Line = Annotated[str, AfterValidator(_one_line)]
Lines = Annotated[str, BeforeValidator(_tidy), AfterValidator(_lines)]


def cleaned(text: str, longest: int = 120) -> str:
    """A name from a foreign file as one line without control characters."""
    return CONTROL.sub(" ", text).strip()[:longest]
