"""Bodies: closed, of the right volume, with exact normals."""

from __future__ import annotations

import math

import numpy as np
import pathops
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Setting
from dreizack.core.form import PARTS, PROFILES, build_bodies, examine, flatten, profile
from dreizack.core.form.edges import travel
from dreizack.core.lettering import glyph_outline, set_words, typefaces
from dreizack.core.lettering.outlines import outline_from_path

NAMES = [face.name for face in typefaces()]
NONE = profile("none", 0, 0, 1e-3)


def square(side: float = 1.0, hole: float = 0.0) -> object:
    path = pathops.Path()
    pen = path.getPen()
    for half, turn in ((side / 2, 1), (hole / 2, -1)):
        if half:
            corners = [(-half, -half), (half, -half), (half, half), (-half, half)][::turn]
            pen.moveTo(corners[0])
            for corner in corners[1:]:
                pen.lineTo(corner)
            pen.closePath()
    return outline_from_path(path, 1.0)


def pixels(filled: np.ndarray) -> object:
    """The squares of a grid (rows, columns) that are filled, as typefaces made of pixels have them."""
    path = pathops.Path()
    pen = path.getPen()
    for y, x in np.argwhere(filled).tolist():
        pen.moveTo((x, y))
        for corner in ((x, y + 1), (x + 1, y + 1), (x + 1, y)):
            pen.lineTo(corner)
        pen.closePath()
    return outline_from_path(path, 1 / 8)


@pytest.mark.parametrize("kind", ["none", "chamfer", "cove", "step", "ogee"])
def test_no_edge_of_a_letter_of_pixels_has_more_than_two_faces(kind: str) -> None:
    rng = np.random.default_rng(len(kind))
    grids = [rng.random((7, 5)) < 0.5 for _ in range(6)]
    # An X touches itself at nothing but corners.
    grids.append(np.eye(5, dtype=bool) | np.eye(5, dtype=bool)[::-1])
    edge = profile(kind, 0 if kind == "none" else 0.02, 0 if kind == "none" else 0.02, 1e-3)
    bodies = build_bodies([pixels(grid) for grid in grids], 1.0, 0.2, edge, edge, 1e-3)
    for grid, body in zip(grids, bodies, strict=True):
        found = examine(body)
        assert found.sound, (grid, found)
        plain = float(grid.sum()) / 64 * 0.2
        assert 0.6 * plain < found.volume < 1.01 * plain


def circle(radius: float = 1.0) -> object:
    """A circle of sixteen cubics: within 1e-7 of round."""
    path = pathops.Path()
    pen = path.getPen()
    pen.moveTo((radius, 0))
    step = math.pi / 8
    k = 4 / 3 * math.tan(step / 4) * radius
    for i in range(16):
        (c, s), (d, t) = ((math.cos(a), math.sin(a)) for a in (i * step, (i + 1) * step))
        pen.curveTo(
            (radius * c - k * s, radius * s + k * c),
            (radius * d + k * t, radius * t - k * d),
            (radius * d, radius * t),
        )
    pen.closePath()
    return outline_from_path(path, 1.0)


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize(
    ("kind", "reach"),
    [("none", 0.0), ("chamfer", 0.012), ("roundover", 0.018), ("roundover", 0.08), ("chamfer", 0.5)],
)
def test_letters_are_closed_at_any_reach(name: str, kind: str, reach: float) -> None:
    layout = set_words("Sg&8Å%ß", Setting(typeface=name))
    outlines = [glyph_outline(g) for g in layout.glyphs]
    front = profile(kind, reach, 0.03, 0.002)
    back = profile("chamfer", 0.008, 0.008, 0.002)
    for body in build_bodies(outlines, layout.em, 0.2, front, back, layout.em * 6e-4):
        found = examine(body)
        assert found.sound, (name, kind, reach, found)
        assert found.volume > 0


def test_profiles_run_from_the_wall_to_the_face_and_never_turn_back() -> None:
    for kind in PROFILES[1:]:
        shape = profile(kind, 0.03, 0.05, 1e-4)
        assert (shape.inset[0], shape.inset[-1], shape.drop[0], shape.drop[-1]) == pytest.approx(
            (0, 0.03, 0.05, 0)
        )
        assert (np.diff(shape.inset) > 0).all() and (np.diff(shape.drop) <= 0).all(), kind
        np.testing.assert_allclose(np.hypot(shape.outward, shape.upward), 1)


@pytest.mark.parametrize("kind", ["cove", "ogee", "roundover"])
def test_curved_profiles_have_the_normals_of_their_curve(kind: str) -> None:
    shape = profile(kind, 0.04, 0.03, 1e-6)
    # Across a chord the true normal is that between its ends; chords are short enough to compare.
    along = np.column_stack([np.diff(shape.inset), -np.diff(shape.drop)])
    along /= np.linalg.norm(along, axis=1, keepdims=True)
    between = np.column_stack([shape.outward[1:] + shape.outward[:-1], shape.upward[1:] + shape.upward[:-1]])
    between /= np.linalg.norm(between, axis=1, keepdims=True)
    across = np.column_stack([along[:, 1], along[:, 0]])
    assert np.degrees(np.arccos(np.clip(np.sum(between * across, axis=1), -1, 1))).max() < 3


@pytest.mark.parametrize("kind", PROFILES[1:])
@pytest.mark.parametrize("name", NAMES[:5])
def test_every_profile_closes_every_letter(name: str, kind: str) -> None:
    layout = set_words("g&8ß", Setting(typeface=name))
    outlines = [glyph_outline(g) for g in layout.glyphs]
    for reach in (0.006, 0.02, 0.2):
        edge = profile(kind, reach, 0.03, 0.002)
        for body in build_bodies(outlines, layout.em, 0.2, edge, edge, layout.em * 6e-4):
            found = examine(body)
            assert found.sound, (name, kind, reach, found)


def test_depth_grows_forward_back_or_both_ways() -> None:
    for share, low, high in ((0.5, -0.1, 0.1), (1.0, 0.0, 0.2), (0.0, -0.2, 0.0)):
        z = build_bodies([square()], 1.0, 0.2, NONE, NONE, 1e-3, share)[0].position[:, 2]
        assert (z.min(), z.max()) == (pytest.approx(low, abs=1e-7), pytest.approx(high, abs=1e-7))


@given(st.floats(0.001, 0.45), st.floats(0.001, 0.4), st.floats(0.05, 2))
def test_volume_of_a_chamfered_square_is_the_frustum_of_geometry(
    reach: float, rise: float, depth: float
) -> None:
    rise = min(rise, depth)
    body = build_bodies([square()], 1.0, depth, profile("chamfer", reach, rise, 1e-3), NONE, 1e-3)[0]
    inner = (1 - 2 * reach) ** 2
    truth = (depth - rise) + rise / 3 * (1 + inner + math.sqrt(inner))
    assert examine(body).volume == pytest.approx(truth, rel=1e-4)
    assert examine(body).closed


@given(st.floats(0.1, 0.8), st.floats(0.001, 0.04))
def test_counters_are_chamfered_outward(hole: float, reach: float) -> None:
    body = build_bodies([square(1, hole)], 1.0, 0.5, profile("chamfer", reach, 0.05, 1e-3), NONE, 1e-3)[0]
    outer, inner = (1 - 2 * reach) ** 2, (hole + 2 * reach) ** 2
    truth = (
        0.45 * (1 - hole**2)
        + 0.05 / 3 * (1 + outer + math.sqrt(outer))
        - 0.05 / 3 * (hole**2 + inner + hole * math.sqrt(inner))
    )
    assert examine(body).closed
    if not body.limited:
        assert examine(body).volume == pytest.approx(truth, rel=1e-3)


def test_normals_of_a_circles_roundover_are_those_of_a_torus() -> None:
    reach = rise = 0.1
    body = build_bodies([circle()], 1.0, 0.5, profile("roundover", reach, rise, 1e-4), NONE, 1e-4)[0]
    bevel = np.unique(body.part("bevel"))
    p, n = body.position[bevel].astype(float), body.normal[bevel].astype(float)
    radius = np.hypot(p[:, 0], p[:, 1])
    # Centre of the profile's quarter circle: radius 1 - reach, height depth / 2 - rise.
    away, up = radius - (1 - reach), p[:, 2] - (0.25 - rise)
    truth = np.column_stack([p[:, 0] / radius * away, p[:, 1] / radius * away, up])
    truth /= np.linalg.norm(truth, axis=1, keepdims=True)
    angle = np.degrees(np.arccos(np.clip(np.sum(n * truth, axis=1), -1, 1)))
    assert angle.max() < 0.5
    # Every ring lies at the distance its profile asks for.
    np.testing.assert_allclose(np.hypot(away, up), reach, rtol=2e-3)


def test_walls_face_along_the_outline_and_faces_along_the_axis() -> None:
    body = build_bodies([circle()], 1.0, 0.5, NONE, NONE, 1e-4)[0]
    wall = np.unique(body.part("wall"))
    assert np.abs(body.normal[wall, 2]).max() < 1e-6
    np.testing.assert_allclose(body.normal[wall, :2], body.position[wall, :2], atol=2e-3)
    assert (body.normal[np.unique(body.part("face")), 2] == 1).all()
    assert (body.normal[np.unique(body.part("back")), 2] == -1).all()


def test_parts_follow_one_another_and_hold_every_triangle() -> None:
    outline = glyph_outline(set_words("B", Setting()).glyphs[0])
    body = build_bodies([outline], 0.7, 0.2, profile("roundover", 0.01, 0.01, 1e-3), NONE, 4e-4)[0]
    assert sum(len(body.part(name)) for name in PARTS) == len(body.triangles)
    assert all(len(body.part(name)) for name in PARTS)


def test_rises_that_exceed_the_depth_are_scaled_to_it() -> None:
    both = profile("chamfer", 0.05, 1.0, 1e-3)
    found = examine(build_bodies([square()], 1.0, 0.3, both, both, 1e-3)[0])
    assert found.closed
    assert found.volume == pytest.approx(2 * 0.15 / 3 * (1 + 0.81 + 0.9), rel=1e-3)


def test_an_edge_that_cannot_reach_so_far_says_so() -> None:
    free, tight = (
        build_bodies([square()], 1.0, 0.3, profile("chamfer", r, 0.1, 1e-3), NONE, 1e-3)[0]
        for r in (0.1, 0.7)
    )
    assert not free.limited and tight.limited


def test_no_outline_makes_an_empty_body() -> None:
    space = glyph_outline(set_words(" ", Setting()).glyphs[0])
    assert space.empty
    assert build_bodies([space], 1.0, 0.2, NONE, NONE, 1e-3)[0].empty


@pytest.mark.parametrize("name", NAMES)
def test_rings_keep_their_distance_from_the_outline(name: str) -> None:
    """Each side of each ring runs parallel to its side of the outline, as far inside as the profile says."""
    layout = set_words("SRg&8", Setting(typeface=name))
    contours = flatten([glyph_outline(g) for g in layout.glyphs], layout.em, layout.em * 3e-4)
    shape = profile("roundover", 0.004 * layout.em, 0.01, 1e-4)
    edges = travel(contours, shape, np.ones(len(contours.points)), 5)
    whole = np.isin(contours.letter, np.setdiff1d(np.arange(5), edges.failed))
    assert whole.mean() > 0.5
    inward = np.column_stack([-contours.edge_direction[:, 1], contours.edge_direction[:, 0]])
    both = (
        edges.flat - contours.points,
        edges.flat[:, contours.following] - contours.points[contours.following],
    )
    # Sides that have merged with a neighbour are no sides any more.
    alive = whole & edges.apart(contours).all(axis=0) & (contours.edge_length > 1e-4)
    for ends in both:
        away = np.sum(ends * inward, axis=2)[:, alive]
        np.testing.assert_allclose(
            away, np.broadcast_to(shape.inset[:, None], away.shape), atol=0.002 * shape.inset[-1]
        )
