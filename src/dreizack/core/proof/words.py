"""A measured spot of the picture in words: what lights it, what keeps light away, why it is as it is."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from ..colour import LUMINANCE
from ..document import Light, Shot, with_copies
from ..optics import to_display
from ..render import Answer, Share

DARK = 0.02
# Display value above which a channel counts as clipped.
CLIPS = 0.985


def explained(answer: Answer, shot: Shot, exposure: float) -> list[str]:
    """Sentences, the most telling first."""
    if answer.thing is None:
        return ["Only the backdrop is here; no light changes it."]
    names: Mapping[str, str] = {
        **{name: thing.name for name, thing in with_copies(shot).things.items()},
        "surroundings": "The surroundings",
        "@sun": "Sun of the sky",
    }
    total = float(LUMINANCE @ answer.light)
    said = []
    # As the shot's own view transform shows it, not as another would.
    shown = (
        to_display(np.array([answer.light], np.float32) * np.float32(2.0**exposure), shot.camera.view)[0]
        / 255
    )
    if float(shown.max()) >= CLIPS:
        channel = ("red", "green", "blue")[int(np.argmax(shown))]
        said.append(
            f"It clips: {channel} is {max(answer.light) * 2**exposure:.1f} times paper white. Lower the "
            "exposure or the strongest light."
        )
    if total * 2**exposure < DARK:
        said.append(_why_dark(answer, names))
    strongest = max(answer.shares, key=lambda share: float(LUMINANCE @ share.light), default=None)
    if strongest is not None and total > 1e-6:
        share = float(LUMINANCE @ strongest.light) / total
        verb = "bring" if strongest.name == "surroundings" else "brings"
        said.append(f"{names.get(strongest.name, strongest.name)} {verb} {share:.0%} of the light here.")
    said += [sentence for share in answer.shares if (sentence := _kept_away(share, names, shot))]
    if answer.emission > 0:
        said.append("The surface glows by itself.")
    if answer.mirrored is not None and (answer.metallic > 0.5 or answer.roughness < 0.4):
        said.append(_mirrored(answer, names))
    if not any(share.blocked > 0.02 for share in answer.shares if share.name != "surroundings"):
        said.append("Nothing stands between the lights and this spot, so there is no shadow here.")
    return said


def _why_dark(answer: Answer, names: Mapping[str, str]) -> str:
    mirrored = answer.mirrored
    if answer.metallic > 0.5 and mirrored is not None:
        what = names.get(mirrored.what, mirrored.what)
        return f"It is dark: bare metal shows only what it mirrors, and that is {what}, which is dark there."
    if max(answer.base_colour) < 0.03:
        return "It is dark because its base colour is nearly black."
    direct = [share for share in answer.shares if share.name != "surroundings"]
    if direct and all(share.behind > 0.98 for share in direct):
        return "It is dark: all lights shine on the other side of the surface."
    if direct and all(share.blocked + share.behind > 0.95 for share in direct):
        return "It is dark: no light reaches this spot."
    return (
        "It is dark: the lights that reach it are weak."
        if direct
        else "It is dark: there are no lights but the surroundings."
    )


def _kept_away(share: Share, names: Mapping[str, str], shot: Shot) -> str:
    name = names.get(share.name, share.name)
    if share.behind > 0.98:
        return f"{name} shines on the other side of the surface."
    if share.blocked > 0.02:
        by = " and ".join(names.get(thing, thing) for thing in share.by[:2])
        soft = _softness(share, shot)
        what = "the surroundings" if share.name == "surroundings" else name
        return f"{by} keeps {share.blocked:.0%} of {what} away{soft}."
    return ""


def _softness(share: Share, shot: Shot) -> str:
    light = shot.things.get(share.name)
    if not isinstance(light, Light) or share.blocked > 0.98:
        return ""
    size = max(light.width, light.height) if light.source == "panel" else light.size
    return f"; its edge is soft because the light is {size:g} m wide" if light.source != "sun" else ""


def _mirrored(answer: Answer, names: Mapping[str, str]) -> str:
    mirrored = answer.mirrored
    assert mirrored is not None
    what = names.get(mirrored.what, mirrored.what)
    if mirrored.what == "surroundings":
        side = "above" if mirrored.elevation >= 0 else "below"
        return (
            f"It mirrors the surroundings {abs(mirrored.elevation):.0f}° {side} the horizon, of value "
            f"{mirrored.value:.2f}."
        )
    return (
        f"It mirrors {what}." if mirrored.value < 0 else f"It mirrors {what}, of value {mirrored.value:.1f}."
    )
