"""Edits that draw in a plate: flat areas to be followed, covers that words are hidden behind."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ...clips import plate_facts
from ...document import Cover, FlatPatch, Lettered, Pivot, Place, Shot, Vector, without_movers
from ...document.adding import free_name
from ...match import Contradicts, Followed, NoPatch, follow_plane
from ..baking import plate_moments
from ..baking.covering import cover_outline, followed_of
from ..form import Form
from ..plate_places import plate_to_picture
from .plate_reading import after_reading, read_greys

Floats = NDArray[np.float64]
Patch = list[dict[str, Any]]

# Frames that are looked at when an area is followed.
MOST_FRAMES = 3000
# How many times as wide as its words an area is taken to be.
ROOM = 1.25
SIMPLEST = 3


def in_plate(shot: Shot, places: Floats) -> Floats:
    """Places (n, 2) in the picture, in shares of the plate."""
    way = np.linalg.inv(plate_to_picture(shot.plate.clip, shot.format.aspect))
    result: Floats = places @ way[:2, :2].T + way[:2, 2]
    return result


def in_picture(shot: Shot, places: Floats) -> Floats:
    """Places (..., 2) in shares of the plate, in those of the picture."""
    way = plate_to_picture(shot.plate.clip, shot.format.aspect)
    result: Floats = places @ way[:2, :2].T + way[:2, 2]
    return result


def follow_patch(
    shot: Shot, frame: int, places: Floats, told: Callable[[float], None] = lambda _: None
) -> Followed:
    """Follow the flat area inside an outline (n, 2), drawn in the picture at a frame of the shot, through the
    whole plate. NoPatch says why it cannot be done."""
    facts = plate_facts(shot.plate.clip)
    if facts is None:
        raise Contradicts("there is no such plate; bring it again")
    if facts.frames > MOST_FRAMES:
        raise NoPatch(
            f"areas are followed through plates of {MOST_FRAMES} frames at most, this one has "
            f"{facts.frames}; cut it to the part that is needed"
        )
    if len(places) < SIMPLEST:
        raise NoPatch("an area needs three corners at least")
    reference = int(plate_moments(shot, np.array([float(frame)]))[0] + 0.5)
    greys = read_greys(shot.plate.clip, told)
    if not greys:
        raise NoPatch("this plate cannot be read; bring it again")
    return follow_plane(
        lambda number: greys[number],
        len(greys),
        min(reference, len(greys) - 1),
        in_plate(shot, places),
        after_reading(told),
    )


def with_patch(shot: Shot, frame: int, places: Floats, track: str, index: int | None = None) -> Patch:
    """A flat area that was followed, new or drawn anew. KeyError where there is none of that number."""
    shape = _shape(frame, in_plate(shot, places))
    if index is None:
        made = FlatPatch(name=_free("Patch", [patch.name for patch in shot.plate.patches]), track=track)
        value = {**made.model_dump(mode="json"), "shape": shape}
        return [{"op": "add", "path": "/plate/patches/-", "value": value}]
    if index >= len(shot.plate.patches):
        raise KeyError(index)
    at = f"/plate/patches/{index}"
    return [
        {"op": "replace", "path": f"{at}/shape", "value": shape},
        {"op": "replace", "path": f"{at}/track", "value": track},
    ]


def with_cover(shot: Shot, frame: int, places: Floats, index: int | None = None) -> Patch:
    """A cover drawn in the picture at a frame: a new one, which the patch it lies on carries, or one as it is
    at that frame. KeyError where there is none of that number, Contradicts where it has other corners."""
    points = in_plate(shot, places)
    shape = _shape(frame, points)
    covers = shot.plate.covers
    if index is None:
        made = Cover(
            name=_free("Cover", [cover.name for cover in covers]),
            carried_by=_lies_on(shot, frame, points),
        )
        value = {**made.model_dump(mode="json"), "shapes": [shape]}
        return [{"op": "add", "path": "/plate/covers/-", "value": value}]
    if index >= len(covers):
        raise KeyError(index)
    others = [one for one in covers[index].shapes if one.frame != frame]
    if any(len(one.points) != len(points) for one in others):
        raise Contradicts("an outline has as many points at every frame; move those that are there")
    listed = [*(one.model_dump(mode="json") for one in others), shape]
    listed.sort(key=lambda one: int(one["frame"]))
    return [{"op": "replace", "path": f"/plate/covers/{index}/shapes", "value": listed}]


def with_carried(shot: Shot, index: int, frame: int, places: Floats, track: str) -> Patch:
    """A cover carried by what is inside its outline (n, 2), as it is in the picture at a frame: an area that
    was followed. KeyError where there is none of that number."""
    if index >= len(shot.plate.covers):
        raise KeyError(index)
    [area] = with_patch(shot, frame, places, track)
    at = f"/plate/covers/{index}"
    return [
        area,
        {"op": "replace", "path": f"{at}/shapes", "value": [area["value"]["shape"]]},
        {"op": "replace", "path": f"{at}/carried_by", "value": area["value"]["name"]},
    ]


def with_words_on(shot: Shot, index: int, thing: str) -> Patch:
    """The patch that puts words on a flat area that was followed: they hang on a pivot that goes with it, as
    large as they are; the area is taken to be as wide as they need. KeyError where there is no such area or
    thing, Contradicts where it was not followed yet."""
    if not 0 <= index < len(shot.plate.patches) or not isinstance(shot.things[thing], Lettered):
        raise KeyError(thing)
    area = shot.plate.patches[index]
    if followed_of(area) is None:
        raise Contradicts("this area was not followed yet; follow it, then words can stand on it")
    pieces = Form(shot.things[thing]).pieces  # type: ignore[arg-type]
    across = np.ptp(pieces.middles[:, 0]) if pieces.listed else 0.0
    middle = pieces.middles.mean(axis=0) if pieces.listed else np.zeros(2)
    width = ROOM * (float(across) + shot.things[thing].extent)  # type: ignore[union-attr]
    name = free_name(shot, "pivot")
    pivot = Pivot(name=f"On {area.name}"[:120], goes_with=area.name, width=round(width, 3))
    place = Place(hangs_on=name, position=Vector(x=-float(middle[0]), y=-float(middle[1])))
    return [
        {"op": "add", "path": f"/things/{name}", "value": pivot.model_dump(mode="json")},
        *without_movers(shot, f"/things/{thing}/place/"),
        {"op": "replace", "path": f"/things/{thing}/place", "value": place.model_dump(mode="json")},
    ]


def outlines_at(shot: Shot, frame: int) -> tuple[list[Floats], list[tuple[Floats, float]]]:
    """Outlines (points, 2) of covers in the picture at a frame, and those of flat areas, each with how much
    it looks as it did there (0: it is lost). What was not drawn yet has no points."""
    at = np.array([float(frame)])
    patches = {patch.name: patch for patch in shot.plate.patches}
    covers = [
        in_picture(shot, cover_outline(shot, cover, patches.get(cover.carried_by), at)[0])
        if cover.shapes
        else np.zeros((0, 2))
        for cover in shot.plate.covers
    ]
    areas = [_area(shot, patch, at) for patch in shot.plate.patches]
    return covers, areas


def _area(shot: Shot, patch: FlatPatch, at: Floats) -> tuple[Floats, float]:
    if patch.shape is None:
        return np.zeros((0, 2)), 0.0
    followed, points = followed_of(patch), np.array(patch.shape.points)
    if followed is None:
        return in_picture(shot, points), 0.0
    drawn = plate_moments(shot, np.array([float(patch.shape.frame)]))
    now = plate_moments(shot, at)
    there = followed.carried(points, float(drawn[0]), now)[0]
    return in_picture(shot, there), float(followed.alike[int(np.clip(now[0] + 0.5, 0, followed.frames - 1))])


def _lies_on(shot: Shot, frame: int, points: Floats) -> str:
    """The name of the patch that the middle of an outline lies on; empty where it lies on none."""
    middle = points.mean(axis=0)
    at = np.array([float(frame)])
    for patch in shot.plate.patches:
        area, alike = _area(shot, patch, at)
        if not len(area) or alike <= 0:
            continue
        area = in_plate(shot, area)
        after = np.roll(area, -1, axis=0)
        over = (area[:, 1] > middle[1]) != (after[:, 1] > middle[1])
        with np.errstate(divide="ignore", invalid="ignore"):
            x = area[:, 0] + (middle[1] - area[:, 1]) / (after[:, 1] - area[:, 1]) * (after - area)[:, 0]
        if (over & (x > middle[0])).sum() % 2:
            return patch.name
    return ""


def _shape(frame: int, points: Floats) -> dict[str, Any]:
    """An outline as plain data: what is none is refused where the edit is."""
    return {"frame": frame, "points": points.round(6).tolist()}


def _free(name: str, taken: list[str]) -> str:
    number = 1
    while f"{name} {number}" in taken:
        number += 1
    return f"{name} {number}"
