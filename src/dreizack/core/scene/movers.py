"""What moves a thing, or one letter of it, at a frame: for whoever points at it and asks."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import Lettered, Mark, Pivot, Shot, Title, describe, hanging
from ..motion import Motion, drift
from .baking.forms import OverFrames
from .form import Form
from .letter_looks import LOOK_VALUES
from .posing import POSE_VALUES
from .set_motion import set_delays

Floats = NDArray[np.float64]

# What each value of a set does to a letter, in words, and the value at which it does nothing.
SET_WORDS = {
    "move/x": ("to the right by {:.3g} m", 0.0),
    "move/y": ("up by {:.3g} m", 0.0),
    "move/z": ("forward by {:.3g} m", 0.0),
    "turn/x": ("pitched {:.3g}°", 0.0),
    "turn/y": ("yawed {:.3g}°", 0.0),
    "turn/z": ("rolled {:.3g}°", 0.0),
    "scale": ("scaled to {:.3g}", 1.0),
    "stretch": ("stretched to {:.3g}", 1.0),
    "shear": ("leaned {:.3g}°", 0.0),
    "depth": ("{:.3g} times as deep", 1.0),
    "opacity": ("opacity {:.3g}", 1.0),
    "glow": ("glowing {:.3g}", 0.0),
    "roughness": ("roughness {:+.3g}", 0.0),
    "tint/r": ("tinted", 1.0),
    "tint/g": ("tinted", 1.0),
    "tint/b": ("tinted", 1.0),
}
STILL = 1e-6


@dataclass(frozen=True)
class Mover:
    """One thing that moves another: ``at`` is the pointer of what to look at, ``says`` what it does, in
    words."""

    at: str
    label: str
    says: str


def movers(shot: Shot, name: str, source: int, frame: float) -> list[Mover]:
    """All that moves a thing at a frame, and the letter from character ``source`` of it (-1: none in
    particular).

    KeyError where there is no such thing.
    """
    thing = shot.things[name]
    found = _span(shot, name)
    motion = Motion(shot, np.array([frame, frame + 1.0]))
    found += [
        Mover(f"/things/{on}", "hangs on", f"{shot.things[on].name}, and moves with it")
        for on in _chain(shot, name)
        if motion.keyed(f"/things/{on}/place")
    ]
    found += [
        _value(motion, name, pointer)
        for pointer in shot.moving
        if pointer.startswith(f"/things/{name}/") and "/sets/" not in pointer
    ]
    if isinstance(thing, Lettered) and source >= 0:
        found += _sets(motion, name, thing, source)
    return found


def _span(shot: Shot, name: str) -> list[Mover]:
    thing = shot.things[name]
    if isinstance(thing, Pivot) or (thing.span.whole and not thing.span.arrival and not thing.span.departure):
        return []
    span = thing.span
    start, end = (0, shot.format.frames) if span.whole else (span.start, span.end)
    says = f"from frame {start} to {end - 1}"
    if span.arrival:
        says += f"; arrives until {start + span.arrival}"
    if span.departure:
        says += f"; leaves from {end - span.departure}"
    return [Mover(f"/things/{name}/span/start", "there", says)]


def _chain(shot: Shot, name: str) -> list[str]:
    """All that a thing hangs on, the nearest first."""
    found: list[str] = []
    while (on := hanging(shot.things[name])) in shot.things:
        found.append(on)
        name = on
    return found


def _value(motion: Motion, name: str, pointer: str) -> Mover:
    """One value of a thing: how much it is, how fast it changes, and by what."""
    shot, below = motion.shot, pointer.removeprefix(f"/things/{name}")
    kind = str(shot.things[name].kind)
    info = next((one for one in describe()[kind] if one["pointer"] == below), None)
    label = info["label"] if info else below.rpartition("/")[2]
    unit = f" {info['unit']}" if info and info["unit"] else ""
    if info and info["group"].rpartition("/")[2] in ("position", "rotation"):
        label = f"{info['group'].rpartition('/')[2]} {label}"
    now, then = motion.value(pointer).tolist()
    says = f"{now:.4g}{unit}"
    if abs(then - now) > STILL:
        says += f", {then - now:+.3g}{unit} a frame"
    by = []
    if pointer in shot.channels:
        keys = shot.channels[pointer].keys
        by.append(f"keys from {keys[0].frame:g} to {keys[-1].frame:g}")
    if (coupling := shot.couplings.get(pointer)) is not None:
        by.append(f"follows {coupling.source or 'its formula'}")
    if (wanders := shot.drifts.get(pointer)) is not None:
        adds = float(drift(wanders, pointer, motion.frames[:1], shot.format.rate.per_second)[0])
        by.append(f"drift adds {adds:+.3g}")
    return Mover(pointer, label, f"{says}: {', '.join(by)}")


def _sets(motion: Motion, name: str, thing: Title | Mark, source: int) -> list[Mover]:
    """What sets do to a letter at its own time."""
    found = []
    pieces = Form(thing).pieces
    values = OverFrames(motion, f"/things/{name}", thing)
    for number, letters in enumerate(thing.sets):
        which, late = set_delays(letters, pieces)
        here = [place for place, index in enumerate(which) if pieces.listed[index].source == source]
        if not here:
            continue
        at = f"/sets/{number}"
        says = []
        for value in (*POSE_VALUES, "depth", *LOOK_VALUES):
            words, neutral = SET_WORDS[value]
            amount = float(
                np.broadcast_to(values.value_at(f"{at}/{value}", late), (2, len(late)))[0, here[0]]
            )
            if abs(amount - neutral) > STILL and words.format(amount) not in says:
                says.append(words.format(amount))
        begun = [
            key.frame
            for pointer, channel in motion.shot.channels.items()
            if pointer.startswith(f"/things/{name}{at}/")
            for key in channel.keys
        ]
        if not says and not begun:
            continue
        told = ", ".join(says) or "nothing at this frame"
        if begun:
            delay = float(late[here[0]])
            told += f"; its time is frame {min(begun) + delay:.4g} to {max(begun) + delay:.4g}"
        found.append(Mover(f"/things/{name}{at}", f"set {number + 1}", told))
    return found
