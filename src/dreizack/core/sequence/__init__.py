"""Shots on a line, with transitions and sound: what is handed over as one.

A sequence names shots and holds nothing of them; together with them it is a bundle, which can be rendered
and written to a file.
"""

from .bundle import Bundle, SequenceFileError, read_bundle, write_bundle
from .document import (
    MAX_SEQUENCE,
    Laid,
    Lane,
    Sequence,
    SequencePiece,
    Transition,
    Version,
    apply_sequence_edit,
    read_sequence,
)
from .layout import Layout, Moment, Showing
from .nesting import flattened
from .proofing import SequenceFinding, sequence_checked, sequence_proofed
from .reel import SequenceReel
from .sound import sequence_sound
from .stretches import Stretch, stretches
from .transitions import TRANSITIONS
from .versions import TableError, columns, read_table, versioned, write_table

__all__ = [
    "MAX_SEQUENCE",
    "TRANSITIONS",
    "Bundle",
    "Laid",
    "Lane",
    "Layout",
    "Moment",
    "Sequence",
    "SequenceFileError",
    "SequenceFinding",
    "SequencePiece",
    "SequenceReel",
    "Showing",
    "Stretch",
    "TableError",
    "Transition",
    "Version",
    "apply_sequence_edit",
    "columns",
    "flattened",
    "read_bundle",
    "read_sequence",
    "read_table",
    "sequence_checked",
    "sequence_proofed",
    "sequence_sound",
    "stretches",
    "versioned",
    "write_bundle",
    "write_table",
]
