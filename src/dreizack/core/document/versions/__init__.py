"""Documents of earlier versions, made what they are today: as plain data, before any model sees them.

A schema version is the number of steps a document has gone; each step is one change (:data:`STEPS`).
"""

from .reading import NewerDocument, current_patch, current_shot, current_title
from .steps import STEPS, Step, schema_version

__all__ = [
    "STEPS",
    "NewerDocument",
    "Step",
    "current_patch",
    "current_shot",
    "current_title",
    "schema_version",
]
