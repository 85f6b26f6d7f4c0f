"""The look of a whole shot given to another one."""

from __future__ import annotations

from typing import Any

from ..document import Shot, apply_edit, without_movers
from ..document.pointer import escaped

Patch = list[dict[str, Any]]
# What goes over whole: with their keys, drift and couplings.
SECTIONS = ("surroundings", "optics")


def worn(shot: Shot, of: Shot) -> Patch:
    """The edit that gives ``shot`` the lights, surroundings, backdrop and optics ``of`` another one, with all
    that moves them; a plate stays what is behind, bars stay, and so does the matched camera's sun."""
    patch: Patch = []
    for name in shot.lights:
        patch += without_movers(shot, f"/things/{name}/")
        patch.append({"op": "remove", "path": f"/things/{escaped(name)}"})
    taken = {name for name in shot.things if name not in shot.lights}
    renamed = {name: _free(name, taken) for name in of.lights}
    for name, light in of.lights.items():
        value = light.model_dump(mode="json")
        # What it was hung on, aimed at or kept from is not here.
        for part in ("hangs_on", "aim_at"):
            value[part] = value[part] if value[part] in shot.things else ""
        patch.append({"op": "add", "path": f"/things/{escaped(renamed[name])}", "value": value})
    sections = [*SECTIONS, *([] if shot.backdrop.kind == "plate" else ["backdrop"])]
    if of.backdrop.kind == "plate" and "backdrop" in sections:
        sections.remove("backdrop")
    for section in sections:
        patch += without_movers(shot, f"/{section}/")
        value = getattr(of, section).model_dump(mode="json")
        if section == "optics":
            value["letterbox"] = shot.optics.letterbox.model_dump(mode="json")
        patch.append({"op": "replace", "path": f"/{section}", "value": value})
    return [*patch, *_movers(of, shot, renamed, sections)]


def undressed(shot: Shot) -> Shot:
    """The look of a shot alone, as a shot without words: what :func:`worn` gives another one."""
    empty = Shot(name=shot.name)
    return apply_edit(empty, worn(empty, shot)).shot


def _movers(of: Shot, shot: Shot, renamed: dict[str, str], sections: list[str]) -> Patch:
    """What moves all of that, at addresses here; what follows something that is not here stays behind."""
    patch: Patch = []
    for part in ("channels", "changes", "drifts"):
        for pointer, value in getattr(of, part).items():
            there = _there(pointer, renamed, sections)
            if there and not there.startswith("/optics/letterbox"):
                patch.append(
                    {"op": "add", "path": f"/{part}/{escaped(there)}", "value": value.model_dump(mode="json")}
                )
    for pointer, coupling in of.couplings.items():
        there = _there(pointer, renamed, sections)
        sources = [_there(source, renamed, sections) for source in coupling.sources]
        if there and all(sources):
            told = coupling.model_dump(mode="json")
            if len(coupling.sources) == 1 and told.get("source") == coupling.sources[0]:
                told["source"] = sources[0]
                patch.append({"op": "add", "path": f"/couplings/{escaped(there)}", "value": told})
    return patch


def _there(pointer: str, renamed: dict[str, str], sections: list[str]) -> str:
    """An address of the other shot as it is here; empty where it does not go over."""
    parts = pointer.split("/")
    if len(parts) > 2 and parts[1] == "things" and parts[2] in renamed:
        return "/".join(["", "things", renamed[parts[2]], *parts[3:]])
    return pointer if parts[1] in sections else ""


def _free(name: str, taken: set[str]) -> str:
    made, number = name, 2
    while made in taken:
        made, number = f"{name[:36]}-{number}", number + 1
    taken.add(made)
    return made
