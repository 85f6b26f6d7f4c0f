"""What every part of a document shares: strictness, and how a value describes itself."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict, Field


class Section(BaseModel):
    """A strict part of the document: unknown fields, NaN and infinities are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False, validate_assignment=True)


def number(
    default: float,
    low: float,
    high: float,
    *,
    label: str,
    tells: str,
    unit: str = "",
    step: float = 0.01,
    keyable: bool = True,
    when: str = "",
    units: dict[str, dict[str, str]] | None = None,
) -> Any:
    """A numeric value with everything an interface needs to show it.

    ``tells`` says what the value does to the picture; ``step`` is one pixel of dragging; ``when``
    names the value beside it on which it depends, and which ones of that it needs: ``kind=arc,drawn``;
    several such conditions are joined by ``&``. ``units`` says which unit goes with which choice of another
    value beside it.
    """
    extra: dict[str, Any] = {"unit": unit, "step": step, "keyable": keyable, **_depends(when)}
    if units:
        extra["units"] = units
    return Field(default, ge=low, le=high, title=label, description=tells, json_schema_extra=extra)


def _depends(when: str) -> dict[str, Any]:
    return {"when": when} if when else {}


def choice(default: str, *, label: str, tells: str, when: str = "") -> Any:
    """One of a few named possibilities; it cannot be keyed."""
    return Field(
        default, title=label, description=tells, json_schema_extra={"keyable": False, **_depends(when)}
    )


def switch(default: bool, *, label: str, tells: str, when: str = "") -> Any:
    """Something that is on or off; it cannot be keyed."""
    return Field(
        default, title=label, description=tells, json_schema_extra={"keyable": False, **_depends(when)}
    )


def part(model: type[Section], *, when: str) -> Any:
    """A part of a thing that means nothing unless a value beside it says so."""
    return Field(default_factory=model, json_schema_extra=_depends(when))


def text(default: str, *, label: str, tells: str, longest: int = 200, when: str = "") -> Any:
    """A line of text; it cannot be keyed."""
    extra: dict[str, Any] = {"keyable": False, **_depends(when)}
    return Field(default, max_length=longest, title=label, description=tells, json_schema_extra=extra)


def frames(default: int, *, label: str, tells: str, when: str = "") -> Any:
    """A number of frames, or a frame, that cannot be keyed."""
    extra: dict[str, Any] = {"keyable": False, "unit": "frames", "step": 0.2, **_depends(when)}
    return Field(default, ge=0, le=200_000, title=label, description=tells, json_schema_extra=extra)


def thing_name(*, label: str, tells: str, of: str, when: str = "") -> Any:
    """The name of another thing of the shot, or nothing; ``of`` says which may be chosen: those with a
    "place", those with a "body", lights, strands, or patches of the plate."""
    extra: dict[str, Any] = {"keyable": False, "thing": of, **_depends(when)}
    return Field("", max_length=40, title=label, description=tells, json_schema_extra=extra)


class Vector(Section):
    """A point or direction in metres, right-handed, y up."""

    x: float = number(0.0, -1e4, 1e4, label="x", unit="m", tells="To the right as seen from the front.")
    y: float = number(0.0, -1e4, 1e4, label="y", unit="m", tells="Upward.")
    z: float = number(0.0, -1e4, 1e4, label="z", unit="m", tells="Towards the viewer.")


class Turn(Section):
    """Rotation in degrees, applied x, then y, then z about the fixed axes."""

    x: float = number(0.0, -36000, 36000, label="pitch", unit="°", step=0.25, tells="Leans forward or back.")
    y: float = number(0.0, -36000, 36000, label="yaw", unit="°", step=0.25, tells="Turns left or right.")
    z: float = number(0.0, -36000, 36000, label="roll", unit="°", step=0.25, tells="Turns in the picture.")


class Colour(Section):
    """Scene-linear colour, Rec.709 primaries."""

    r: float = number(1.0, 0, 1, label="red", step=0.002, tells="Scene-linear red.")
    g: float = number(1.0, 0, 1, label="green", step=0.002, tells="Scene-linear green.")
    b: float = number(1.0, 0, 1, label="blue", step=0.002, tells="Scene-linear blue.")


def vector(x: float, y: float, z: float, when: str = "") -> Any:
    """A default :class:`Vector`."""
    return Field(default_factory=lambda: Vector(x=x, y=y, z=z), json_schema_extra=_depends(when))


def colour(
    r: float, g: float, b: float, *, label: str, tells: str, keyable: bool = True, when: str = ""
) -> Any:
    """A default :class:`Colour` that explains itself."""
    return Field(
        default_factory=lambda: Colour(r=r, g=g, b=b),
        title=label,
        description=tells,
        json_schema_extra=_depends(when) if keyable else {"keyable": False, **_depends(when)},
    )
