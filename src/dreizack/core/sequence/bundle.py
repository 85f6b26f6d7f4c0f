"""A sequence together with the shots it needs: what is ordered, and what is written to a file."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

from ..document import EditRefused, Shot, ShotFileError, read_shot, write_shot
from ..document.versions import schema_version
from .document import Sequence, read_sequence

# Bytes of a file: a sequence and its shots as JSON.
MAX_BUNDLE = 64 * 1024 * 1024
SEQUENCE_VERSION = 1


class SequenceFileError(ValueError):
    """A sequence file that cannot be read; the text says where and why."""


@dataclass(frozen=True)
class Bundle:
    """``shots`` by the names the sequence gives them."""

    sequence: Sequence
    shots: dict[str, Shot]

    def check(self) -> Bundle:
        """Itself; SequenceFileError where a shot is missing."""
        for name in self.sequence.shots:
            if name not in self.shots:
                raise SequenceFileError(f"the shot '{name[:80]}' of the sequence is not there")
        return self


def write_bundle(bundle: Bundle) -> str:
    """The text of a sequence file."""
    tree = {
        "dreizack_sequence": SEQUENCE_VERSION,
        "sequence": bundle.sequence.model_dump(mode="json"),
        "shots": {name: json.loads(write_shot(shot)) for name, shot in bundle.shots.items()},
    }
    return json.dumps(tree, indent=1, ensure_ascii=False) + "\n"


def read_bundle(text: str | bytes) -> Bundle:
    """Read a sequence file; raises SequenceFileError, never anything else, on bad input."""
    if len(text) > MAX_BUNDLE:
        raise SequenceFileError(f"the file is larger than {MAX_BUNDLE // 1024 // 1024} MB")
    try:
        tree: Any = json.loads(text)
    except (ValueError, RecursionError) as why:
        raise SequenceFileError(f"this is no JSON, or it is damaged ({str(why)[:120]})") from None
    if not isinstance(tree, dict) or "dreizack_sequence" not in tree:
        raise SequenceFileError("this is not a sequence file: 'dreizack_sequence' is missing at the top")
    if tree["dreizack_sequence"] != SEQUENCE_VERSION:
        raise SequenceFileError(
            f"the file is of version {str(tree['dreizack_sequence'])[:20]}; this program reads "
            f"{SEQUENCE_VERSION} (shots: {schema_version()})"
        )
    given = tree.get("shots")
    if not isinstance(given, dict):
        raise SequenceFileError("the shots of the sequence are missing")
    shots = {}
    for name, shot in given.items():
        try:
            shots[name] = read_shot(json.dumps(shot))
        except (ShotFileError, RecursionError) as why:
            raise SequenceFileError(f"shot '{name[:80]}': {why}") from None
    try:
        return Bundle(read_sequence(tree.get("sequence")), shots).check()
    except EditRefused as why:
        raise SequenceFileError(f"at {why.where}: {why}") from None
    except RecursionError:
        raise SequenceFileError("the file is nested too deeply to be a sequence") from None
