"""The shot file: JSON with a schema version, readable by people and other programs."""

from __future__ import annotations

import json
from typing import Any

from .edits import MAX_BYTES, MAX_DEPTH, EditRefused, read_model
from .shot import Shot
from .versions import NewerDocument, current_shot, schema_version
from .weight import depth


class ShotFileError(ValueError):
    """A shot file that cannot be read; the text says where and why."""


def write_shot(shot: Shot) -> str:
    """The text of a shot file."""
    tree = {"dreizack_shot": schema_version(), **shot.model_dump(mode="json")}
    return json.dumps(tree, indent=2, ensure_ascii=False) + "\n"


def read_shot(text: str | bytes) -> Shot:
    """Read a shot file; raises ShotFileError, never anything else, on bad input."""
    if len(text) > MAX_BYTES:
        raise ShotFileError(
            f"the file is larger than {MAX_BYTES // 1024 // 1024} MB; a shot file is far smaller"
        )
    try:
        tree: Any = json.loads(text)
    except UnicodeDecodeError:
        raise ShotFileError("the file is not text in UTF-8; choose a shot file (JSON)") from None
    except RecursionError:
        raise ShotFileError("the file is nested too deeply to be a shot") from None
    except json.JSONDecodeError as why:
        raise ShotFileError(
            f"line {why.lineno}, column {why.colno}: {why.msg}; the file is damaged"
        ) from None
    except ValueError:
        raise ShotFileError(
            "a number in the file is longer than any that is used; the file is damaged"
        ) from None
    if not isinstance(tree, dict) or "dreizack_shot" not in tree:
        raise ShotFileError("this is not a shot file: the field 'dreizack_shot' is missing at the top")
    if depth(tree, MAX_DEPTH) > MAX_DEPTH:
        raise ShotFileError(f"the file is nested more than {MAX_DEPTH} levels deep; no shot is")
    version = tree.pop("dreizack_shot")
    try:
        return read_model(current_shot(tree, version))
    except NewerDocument as why:
        raise ShotFileError(str(why)) from None
    except EditRefused as why:
        raise ShotFileError(f"at {why.where}: {why}") from None
    except RecursionError:
        raise ShotFileError("the file is nested too deeply to be a shot") from None
