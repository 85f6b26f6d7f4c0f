"""How pictures lie on the letters of a title."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from ..document import SurfacePicture
from ..finish import surface_picture
from ..form import GlyphBody
from .bodies import BodyStore, LetterBody, body_matrices
from .form import Form
from .inset_gradient import inward_picture
from .letter_atlas import planes
from .outline_gradient import along_picture, outline_length

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class UVMap:
    """Where a picture lies on a letter: ``plane`` (2, 4) takes points (x, y, z, 1) of the letter to picture
    coordinates (0 to 1, up), ``run`` (2, 3) takes (running length, height, 1) of walls and edges there.

    ``running`` says whether walls and edges go by their running length, without stretch. ``span`` is how many
    metres a picture is high.
    """

    plane: Floats
    run: Floats
    running: bool
    span: float


def uv_maps(
    picture: SurfacePicture,
    texture_transform: Floats,
    aspect: float,
    letters: Sequence[LetterBody],
    bodies: Sequence[GlyphBody | None],
    matrix: Floats,
    poses: Floats,
) -> list[UVMap]:
    """Where a picture of an ``aspect`` (width over height) lies on each letter.

    ``placing`` (TEXTURE_TRANSFORM,) is size, shifts and angle in degrees, ``matrix`` (4, 4) that of the
    title, ``poses`` (pieces, 3, 4) those of its pieces. The picture covers the box of its space: whichever
    side asks for more counts.
    """
    if by_outline(picture):
        return [UVMap(plane, np.zeros((2, 3)), False, 1.0) for plane in planes(bodies)]
    size, shift_x, shift_y, angle = texture_transform.tolist()
    groups = _groups(picture, letters)
    whole = matrix if picture.space == "room" else np.eye(4)
    spaces = (
        np.tile(np.eye(4), (len(letters), 1, 1))
        if picture.space == "letter"
        else whole @ body_matrices(letters, poses)
    )
    middle, extent = _boxes(groups, bodies, spaces)
    if picture.space == "room":
        # The picture stays where it is while letters move through it: a metre wide box about the origin.
        middle, extent = np.zeros_like(middle), np.ones_like(extent)
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    turn = np.array([[c, s], [-s, c]])
    found = []
    for group, space in zip(groups.tolist(), spaces, strict=True):
        (wide, tall, deep), (x, y, _) = extent[group], middle[group]
        if picture.fill == "gradient" and picture.gradient == "depth":
            flat = np.array(
                [[0, 0, 1 / (size * deep), 0.5 + shift_x - middle[group][2] / (size * deep)], [0, 0, 0, 0.5]]
            )
            found.append(UVMap(flat @ space, np.zeros((2, 3)), False, size * deep))
            continue
        if picture.fill == "gradient" and picture.gradient == "linear":
            reach = np.array([abs(c) * wide + abs(s) * tall, abs(s) * wide + abs(c) * tall])
        elif picture.fill == "gradient":
            reach = np.array([max(wide, tall)] * 2)
        else:
            high_ = max(wide / aspect, tall)
            reach = np.array([high_ * aspect, high_])
        scaled = turn / (size * reach)[:, None]
        flat = np.zeros((2, 4))
        flat[:, :2] = scaled
        flat[:, 3] = 0.5 + np.array([shift_x, shift_y]) - scaled @ np.array([x, y])
        run = np.column_stack([scaled, 0.5 + np.array([shift_x, shift_y])])
        found.append(UVMap(flat @ space, run, picture.fill != "gradient", float(size * reach[1])))
    return found


def _boxes(
    groups: NDArray[np.int64], bodies: Sequence[GlyphBody | None], spaces: Floats
) -> tuple[Floats, Floats]:
    """Middle and extent (groups, 3) of boxes: what bodies of a group fill in their spaces (bodies, 4, 4)."""
    boxes = np.array([_box(body, space) for body, space in zip(bodies, spaces, strict=True)])
    boxes = boxes.reshape(-1, 2, 3)
    count = int(groups.max()) + 1 if len(groups) else 0
    low, high = np.full((count, 3), np.inf), np.full((count, 3), -np.inf)
    np.minimum.at(low, groups, boxes[:, 0])
    np.maximum.at(high, groups, boxes[:, 1])
    return (low + high) / 2, np.maximum(high - low, 1e-6)


def on_frame(picture: SurfacePicture, texture_transform: Floats, aspect: float) -> Floats:
    """How a picture on the plate fills a frame of an ``aspect``, by its ``placing`` (..., TEXTURE_TRANSFORM):
    a matrix row by row and two shifts (..., 6), which take places in shares of the frame, from its middle, to
    picture coordinates.

    At size 1 it covers the frame.
    """
    size, shift_x, shift_y, angle = np.moveaxis(texture_transform, -1, 0)
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    wide = aspect_of(picture) / aspect
    across, up = size * wide / min(wide, 1.0) * aspect, size / min(wide, 1.0)
    return np.stack([c * aspect / across, s / across, -s * aspect / up, c / up, shift_x, shift_y], axis=-1)


def _box(body: GlyphBody | None, space: Floats) -> Floats:
    """Lowest and highest corner (2, 3) of a body in a space."""
    if body is None or body.empty:
        return np.array([[np.inf] * 3, [-np.inf] * 3])
    ends = np.stack([body.position.min(axis=0), body.position.max(axis=0)])
    corners = np.array([[ends[i, 0], ends[j, 1], ends[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
    placed = corners @ space[:3, :3].T + space[:3, 3]
    return np.stack([placed.min(axis=0), placed.max(axis=0)])


def _groups(picture: SurfacePicture, letters: Sequence[LetterBody]) -> NDArray[np.int64]:
    """Number of the space (letters,) that each letter shares with others."""
    names = {
        "letter": range(len(letters)),
        "word": [one.word for one in letters],
        "line": [one.line for one in letters],
    }
    if not letters:
        return np.zeros(0, np.int64)
    return np.unique(list(names.get(picture.space, [0] * len(letters))), return_inverse=True)[1].reshape(-1)


def by_outline(picture: SurfacePicture) -> bool:
    """Whether a picture is made for each letter from its outline."""
    return picture.fill == "gradient" and picture.gradient in ("outline", "inward")


def travels(picture: SurfacePicture) -> bool:
    """Whether a picture is another one when its texture_transform changes, rather than the same elsewhere."""
    return picture.fill == "gradient" and picture.gradient == "outline"


def shown_picture(
    picture: SurfacePicture, frame: int, texture_transform: Floats, bodies: BodyStore, form: Form
) -> NDArray[np.float32]:
    """What is on a surface (rows, columns, 3), scene-linear, by the ``frame`` of a video and its ``placing``
    (TEXTURE_TRANSFORM,)."""
    if not by_outline(picture):
        return surface_picture(picture, frame)
    letters = bodies.letters(form)
    built = [bodies.get(letter.body) for letter in letters]
    if not travels(picture):
        return inward_picture(picture, built)
    groups = _groups(picture, letters)
    longest = np.zeros(len(letters))
    np.maximum.at(longest, groups, [outline_length(body) for body in built])
    return along_picture(picture, texture_transform, longest[groups].tolist(), built)


def aspect_of(picture: SurfacePicture) -> float:
    """Width over height of what is on a surface; gradients have none of their own."""
    if picture.fill == "gradient":
        return 1.0
    rows, columns = surface_picture(picture).shape[:2]
    return float(columns) / float(rows)
