"""Where in the picture an effect is at work."""

from __future__ import annotations

from .ground import Section, number, switch, thing_name
from .plain_text import Line


class Area(Section):
    """A soft ellipse or box in the picture, what is bright or dark there, what is near or far, or one thing,
    that an effect is kept to, or keeps away from."""

    limited: float = number(
        0.0, -1, 1, label="limited", step=0.005,
        tells="0: at work everywhere; 1: only in the area; -1: everywhere but there.",
    )  # fmt: skip
    x: float = number(
        0.5, -2, 3, label="across", step=0.002, tells="Its middle, 0 to 1 from the left.", when="limited!=0"
    )
    y: float = number(0.5, -2, 3, label="down", step=0.002, tells="0 to 1 from the top.", when="limited!=0")
    width: float = number(
        0.6, 0.001, 10, label="width", unit="× h", step=0.002, tells="In heights of the picture.",
        when="limited!=0",
    )  # fmt: skip
    height: float = number(
        0.6, 0.001, 10, label="height", unit="× h", step=0.002, tells="In heights of the picture.",
        when="limited!=0",
    )  # fmt: skip
    angle: float = number(
        0.0, -3600, 3600, label="angle", unit="°", step=0.5, tells="Turns it to the left.", when="limited!=0"
    )
    roundness: float = number(
        1.0, 0, 1, label="roundness", step=0.01, tells="1 is an ellipse, 0 a box.", when="limited!=0"
    )
    softness: float = number(
        0.3, 0, 2, label="softness", step=0.005, tells="How wide its edge is, as a share of its half.",
        when="limited!=0",
    )  # fmt: skip
    tone: float = number(
        0.0, -1, 1, label="by brightness", step=0.005,
        tells="0: whatever is there; 1: only on what is brighter than that; -1: only on what is darker.",
    )  # fmt: skip
    level: float = number(
        1.0, -16, 16, label="brighter than", unit="stops", step=0.02, tells="From middle grey (0.18).",
        when="tone!=0",
    )  # fmt: skip
    tone_softness: float = number(
        2.0, 0.01, 20, label="over", unit="stops", step=0.02, tells="How gradually, from none to all.",
        when="tone!=0",
    )  # fmt: skip
    depth: float = number(
        0.0, -1, 1, label="by distance", step=0.005,
        tells="0: however far away; 1: only on what is nearer than that; -1: only on what is further away.",
    )  # fmt: skip
    near: float = number(
        5.0, 0.001, 10_000, label="nearer than", unit="m", step=0.01,
        tells="Along the axis of the camera; what is behind everything is further than anything.",
        when="depth!=0",
    )  # fmt: skip
    depth_softness: float = number(
        1.0, 0.001, 10_000, label="over", unit="m", step=0.01, tells="How gradually, from all to none.",
        when="depth!=0",
    )  # fmt: skip
    thing: Line = thing_name(label="on", tells="A thing: at work where it is seen alone.", of="body")
    but_for: bool = switch(
        False, label="but for it", tells="At work everywhere but where that thing is seen.", when="thing!="
    )
