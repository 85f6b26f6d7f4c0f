"""Documents, looks and finishes as they come from the store, whatever version they were written in."""

from __future__ import annotations

import json
from typing import Any

from pydantic import ValidationError

from .finish import Finish
from .looks import Look
from .plain_text import CONTROL_IN_WORDS
from .shot import Shot
from .versions import current_shot, current_title, schema_version


def stored_shot(text: str, version: int) -> Shot:
    """A shot from the store. What was let in before and is not any more (control characters) is taken out."""
    if version == schema_version():
        try:
            return Shot.model_validate_json(text)
        except ValidationError:
            pass
    return Shot.model_validate(_cleaned(current_shot(json.loads(text), version)))


def stored_look(text: str, version: int) -> Look:
    """A look from the store."""
    look = json.loads(text)
    return Look.model_validate(look | {"sections": _cleaned(current_title(look["sections"], version))})


def stored_finish(text: str, version: int) -> Finish:
    """A finish from the store."""
    return Finish.model_validate(_cleaned(current_title({"finish": json.loads(text)}, version)["finish"]))


def _cleaned(value: Any, key: str = "") -> Any:
    """The same without control characters; lines of words stay."""
    if isinstance(value, str):
        plain = CONTROL_IN_WORDS.sub("", value)
        return plain if key == "words" else plain.replace("\n", " ")
    if isinstance(value, dict):
        return {name: _cleaned(inner, name) for name, inner in value.items()}
    return [_cleaned(inner, key) for inner in value] if isinstance(value, list) else value
