"""How a video plays, wherever there is one."""

from __future__ import annotations

from typing import Any, Literal

from .ground import choice, number

After = Literal["again", "to and fro", "hold"]


def speed(when: str) -> Any:
    """The field for how fast a video plays; ``when`` it means anything."""
    return number(
        1.0,
        -100,
        100,
        label="speed",
        unit="×",
        step=0.01,
        keyable=False,
        tells="How fast the video plays; below 0 backwards.",
        when=when,
    )


def offset(when: str) -> Any:
    """The field for where in a video its playing begins; ``when`` it means anything."""
    tells = "Where in the video it begins; keyed, with speed 0, it says what is shown when."
    return number(0.0, -10000, 10000, label="offset", unit="s", step=0.02, tells=tells, when=when)


def after(when: str) -> Any:
    """The field for what follows the last frame; ``when`` it means anything."""
    return choice("again", label="after its end", tells="What follows the last frame.", when=when)
