"""A sound of a shot."""

from __future__ import annotations

from pydantic import Field

from .ground import Section, number, switch
from .plain_text import Line

# What of a sound other values may follow.
HEARD = ("level", "low", "middle", "high")


class Sound(Section):
    """A sound that begins at a frame of the shot; other values may follow what is heard in it."""

    name: Line = Field("Sound", min_length=1, max_length=120)
    file: Line = Field("", max_length=80)
    on: bool = switch(True, label="heard", tells="Off, it is not mixed in; what follows it still does.")
    start: float = number(
        0.0,
        -200_000,
        200_000,
        label="begins at",
        unit="frames",
        step=0.1,
        keyable=False,
        tells="The frame it begins at.",
    )
    skip: float = number(
        0.0,
        0,
        3600,
        label="from",
        unit="s",
        step=0.02,
        keyable=False,
        tells="So far into the sound it begins.",
    )
    gain: float = number(
        0.0, -60, 12, label="gain", unit="dB", step=0.1, tells="Louder or softer; at −60 silent."
    )
    fade_in: float = number(
        0.0,
        0,
        20_000,
        label="fade in",
        unit="frames",
        step=0.5,
        keyable=False,
        tells="Comes up over so many frames.",
    )
    fade_out: float = number(
        0.0,
        0,
        20_000,
        label="fade out",
        unit="frames",
        step=0.5,
        keyable=False,
        tells="Goes down over so many frames, to its end or the end of the shot.",
    )
