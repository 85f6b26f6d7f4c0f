"""What the interface needs to know of every value: label, unit, limits, and what it does."""

from __future__ import annotations

from functools import cache
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel
from pydantic.fields import FieldInfo

from ..colour import AS_SEEN, encodings
from .body import Deformation, Shell
from .camera import Camera
from .cover import Cover, FlatPatch
from .driven import Coupling, Drift
from .finish import Finish, Stop, Surface
from .ground import Colour
from .optics import Optics
from .plate import Plate
from .pointer import resolve
from .sets import LetterSet
from .setting import Axis, Gap, Pose, Range
from .shot import THINGS
from .sound import Sound
from .surroundings import Backdrop, Surroundings

KINDS: dict[str, type[BaseModel]] = {
    **THINGS,
    "sound": Sound,
    "camera": Camera,
    "surroundings": Surroundings,
    "backdrop": Backdrop,
    "plate": Plate,
    "optics": Optics,
    # Parts of things of which there may be several.
    "range": Range,
    "set": LetterSet,
    "finish": Finish,
    "surface": Surface,
    "stop": Stop,
    "shell": Shell,
    "deformation": Deformation,
    "pose": Pose,
    "gap": Gap,
    "axis": Axis,
    "patch": FlatPatch,
    "cover": Cover,
    "drift": Drift,
    "coupling": Coupling,
}
_NAMES = {model: name for name, model in KINDS.items()}


@cache
def describe() -> dict[str, list[dict[str, Any]]]:
    """Per kind of thing, its values in order, each with its pointer below the thing; one and the same answer
    every time."""
    return {
        kind: [_with_default(model(), value) for value in _values(model, "", "")]
        for kind, model in KINDS.items()
    }


def fresh() -> dict[str, dict[str, Any]]:
    """A new one of each part of things of which there may be several, whole."""
    return {
        kind: KINDS[kind]().model_dump(mode="json")
        for kind in (
            "range",
            "set",
            "finish",
            "floor",
            "strand",
            "swarm",
            "light",
            "surface",
            "stop",
            "shell",
            "deformation",
            "pose",
            "pivot",
            "drift",
            "coupling",
            "sound",
            "patch",
            "cover",
        )
    }


def _with_default(fresh: BaseModel, value: dict[str, Any]) -> dict[str, Any]:
    default = resolve(fresh, value["pointer"])
    return {**value, "default": default.model_dump() if isinstance(default, BaseModel) else default}


def _values(model: type[BaseModel], at: str, group: str, above: tuple[str, ...] = ()) -> Any:
    """Every value below a model; ``needs`` are the conditions under which it means anything: its own and
    those of what it is in."""
    for name, field in model.model_fields.items():
        pointer, kind = f"{at}/{name}", field.annotation
        needs = above + tuple(f"{at}/{one}" for one in str(_extra(field).get("when", "")).split("&") if one)
        yield from (
            {**value, "needs": list(value.get("needs", needs))}
            for value in _value(field, name, kind, pointer, group, needs)
        )


def _value(field: FieldInfo, name: str, kind: Any, pointer: str, group: str, needs: tuple[str, ...]) -> Any:
    if kind is Colour:
        yield {
            "pointer": pointer,
            "kind": "colour",
            "group": group,
            **_words(name, field),
            "keyable": True,
            **_extra(field),
        }
    elif isinstance(kind, type) and issubclass(kind, BaseModel):
        yield from _values(kind, pointer, f"{group}/{field.title or name}".strip("/"), needs)
    elif get_origin(kind) is list and (item := get_args(kind)[0]) in _NAMES:
        # A list of a thing is a group of its own, one of a part stands in the part's.
        listed = {
            "pointer": pointer,
            "kind": "list",
            "group": group or field.title or name,
            "item": _NAMES[item],
            **_words(name, field),
            **_extra(field),
        }
        yield {
            **listed,
            "most": next(m.max_length for m in field.metadata if hasattr(m, "max_length")),
            "keyable": False,
        }
    elif isinstance(field.json_schema_extra, dict):
        yield {"pointer": pointer, "group": group, **_words(name, field), **_shape(field)}


def _extra(field: FieldInfo) -> dict[str, Any]:
    return dict(field.json_schema_extra) if isinstance(field.json_schema_extra, dict) else {}


def _words(name: str, field: FieldInfo) -> dict[str, Any]:
    return {"label": field.title or name, "tells": field.description or ""}


def _shape(field: FieldInfo) -> dict[str, Any]:
    extra = _extra(field)
    if field.annotation is bool:
        return {"kind": "switch", **extra}
    if get_origin(field.annotation) is Literal:
        return {"kind": "choice", "choices": list(get_args(field.annotation)), **extra}
    if extra.pop("listed", "") == "encodings":
        return {"kind": "choice", "choices": [AS_SEEN, *encodings()], **extra}
    if field.annotation is str:
        return {"kind": "text", **extra}
    low = next(m.ge for m in field.metadata if hasattr(m, "ge"))
    high = next(m.le for m in field.metadata if hasattr(m, "le"))
    return {"kind": "number", "low": low, "high": high, **extra}
