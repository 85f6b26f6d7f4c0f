"""The file a movement travels in: JSON with a schema version."""

from __future__ import annotations

import json

from pydantic import ValidationError

from ..document import schema_version
from ..document.edits import MAX_DEPTH
from ..document.plain_text import cleaned
from ..document.weight import depth
from .copying import KeptMotion

MAX_BYTES = 2 * 1024 * 1024


class MotionFileError(ValueError):
    """A file of a movement that cannot be read; the text says where and why."""


def write_motion(name: str, motion: KeptMotion) -> str:
    """The text of a file."""
    tree = {"dreizack_motion": schema_version(), "name": name, **motion.model_dump(mode="json")}
    return json.dumps(tree, indent=2, ensure_ascii=False) + "\n"


def read_motion(text: str | bytes) -> tuple[str, KeptMotion]:
    """Name and movement of a file; raises MotionFileError, never anything else, on bad input."""
    if len(text) > MAX_BYTES:
        raise MotionFileError(
            f"the file is larger than {MAX_BYTES // 1024 // 1024} MB; a movement is far smaller"
        )
    try:
        tree = json.loads(text)
    except (ValueError, RecursionError):
        raise MotionFileError("the file is no readable JSON; export the movement anew") from None
    if not isinstance(tree, dict) or "dreizack_motion" not in tree:
        raise MotionFileError(
            "this is no file of a movement: the field 'dreizack_motion' is missing at the top"
        )
    version = tree.pop("dreizack_motion")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise MotionFileError("the field 'dreizack_motion' must be the number of its version")
    if version > schema_version():
        raise MotionFileError(
            f"it was made by a newer version ({version}); this one reads up to {schema_version()}"
        )
    name = tree.pop("name", None)
    if not isinstance(name, str) or not 1 <= len(cleaned(name)) <= 60:
        raise MotionFileError("the movement has no name of 1 to 60 characters")
    if depth(tree, MAX_DEPTH) > MAX_DEPTH:
        raise MotionFileError(f"the movement is nested more than {MAX_DEPTH} levels deep")
    try:
        # Names are part of addresses.
        return cleaned(name).replace("/", "-"), KeptMotion.model_validate(tree)
    except (ValidationError, RecursionError) as why:
        if not isinstance(why, ValidationError):
            raise MotionFileError("the movement is nested too deeply") from None
        first = why.errors(include_url=False)[0]
        raise MotionFileError(f"at /{'/'.join(map(str, first['loc']))}: {first['msg']}") from None
