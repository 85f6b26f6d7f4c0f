"""Who sees a thing, and what it does to light."""

from __future__ import annotations

from typing import Literal

from .ground import Section, choice, switch


class Visibility(Section):
    """Independent switches."""

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
    blend: Literal["normal", "add", "screen", "multiply"] = choice(
        "normal",
        label="blend",
        tells="How it is laid over what is behind it, in scene light. Normal hides it; add: own + behind; "
        "screen: own + behind × (1 - own); multiply: behind × base colour.",
    )
    catches: bool = switch(
        False,
        label="is a catcher",
        tells="It stands for something in the plate: itself unseen, it takes the shadow and the reflection "
        "of "
        "the words, and hides what is behind it.",
    )
