"""Who sees a thing, and what it does to light."""

from __future__ import annotations

from .ground import Section, switch


class Visibility(Section):
    """Four independent switches."""

    camera: bool = switch(
        True,
        label="seen by camera",
        tells="Off, the thing itself is not in the picture; its shadow and its reflection may be.",
    )
    reflections: bool = switch(
        True,
        label="seen in reflections",
        tells="Whether it is mirrored in other things and sends light on to them.",
    )
    casts: bool = switch(True, label="casts shadows", tells="Whether it keeps light from other things.")
    receives: bool = switch(True, label="receives shadows", tells="Whether others keep light from it.")
