"""Limits of edges against the true distance to the outline."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from manifold3d import CrossSection, FillRule

from dreizack.core.document import Setting
from dreizack.core.form import build_bodies, examine, flatten, profile
from dreizack.core.form.contours import Contours, polygons
from dreizack.core.form.fronts import Fronts
from dreizack.core.form.limits import Paths, needless, paths
from dreizack.core.lettering import glyph_outline, set_words


def bar(length: float, width: float) -> np.ndarray:
    return np.array([[0.0, 0], [length, 0], [length, width], [0, width]])


def limits(contours: Contours, reach: float) -> Paths:
    share = np.ones(len(contours.points))
    return paths(contours, np.array([0.0, reach]), share, 1.0, [Fronts.of(contours, 0, share)])


@given(st.floats(0.02, 0.2), st.floats(0.3, 3.0))
def test_a_bar_is_limited_to_just_below_half_its_width(width: float, reach: float) -> None:
    contours = polygons([bar(1.0, width)]).between(0.02)
    found = limits(contours, reach)
    middle = (contours.points[:, 0] > 0.3) & (contours.points[:, 0] < 0.7)
    assert (found.stop[middle] < width / 2).all()
    assert (found.stop[middle] > 0.85 * width / 2).all()


def test_a_neck_limits_only_what_is_near_it() -> None:
    """Two squares joined by a thin neck: the neck and its mouths are limited, the far sides go the whole
    way."""
    shape = np.array(
        [
            [0.0, 0],
            [1, 0],
            [1, 0.48],
            [1.4, 0.48],
            [1.4, 0],
            [2.4, 0],
            [2.4, 1],
            [1.4, 1],
            [1.4, 0.52],
            [1, 0.52],
            [1, 1],
            [0, 1],
        ]
    )
    contours = polygons([shape]).between(0.03)
    reach = 0.1
    found = limits(contours, reach)
    x = contours.points[:, 0]
    assert (found.stop[(x > 1.01) & (x < 1.39)] < 0.02).all()
    assert (found.stop[(x < 0.5) | (x > 1.9)] == reach).all()


@settings(max_examples=25)
@given(st.integers(0, 10_000), st.floats(0.01, 2.0))
def test_rings_of_limited_letters_are_simple_and_lie_inside(seed: int, reach: float) -> None:
    rng = np.random.default_rng(seed)
    angle = np.sort(rng.uniform(0, 2 * np.pi, 24))
    radius = rng.uniform(0.35, 1.0, 24)
    star = np.column_stack([np.cos(angle) * radius, np.sin(angle) * radius])
    area = CrossSection([star], FillRule.Positive)
    if len(area.to_polygons()) != 1 or area.area() < 0.5:
        return
    from dreizack.core.lettering import Outline

    ring = area.to_polygons()[0]
    following = np.roll(ring, -1, axis=0)
    controls = np.stack(
        [ring, ring + (following - ring) / 3, ring + (following - ring) * 2 / 3, following], axis=1
    )
    outline = Outline(controls, np.ones(len(ring), bool), np.zeros(len(ring), np.int64))
    edge = profile("roundover", reach, 0.1, 0.01)
    body = build_bodies([outline], 1.0, 0.4, edge, edge, 0.002)[0]
    found = examine(body)
    assert found.sound, found
    assert 0 < found.volume < area.area() * 0.4 * 1.0001


@pytest.mark.parametrize(("outer", "counter"), [(1.0, 0.25), (1.0, 0.0), (1.0, 2.0)])
def test_counters_have_a_reach_of_their_own(outer: float, counter: float) -> None:
    outline = glyph_outline(set_words("O", Setting(typeface="archivo-black")).glyphs[0])
    contours = flatten([outline], 1.0, 1e-4)
    reach = 0.01
    shape = profile("chamfer", reach, 0.02, 1e-3)
    body = build_bodies([outline], 1.0, 0.2, shape, shape, 1e-4, counters=(counter, counter))[0]
    assert examine(body).closed
    face = CrossSection(_rings(body), FillRule.Positive).area()
    holes = contours.holes()
    length = [float(contours.edge_length[holes == inside].sum()) for inside in (False, True)]
    area = CrossSection(
        np.split(contours.points, np.flatnonzero(np.diff(contours.contour)) + 1), FillRule.Positive
    ).area()
    assert area - face == pytest.approx(reach * length[0] + counter * reach * length[1], rel=0.03)


def _rings(body: object) -> list[np.ndarray]:
    """Triangles of the face as polygons."""
    return list(body.position[body.part("face")][..., :2].astype(float))  # type: ignore[attr-defined]


def test_points_that_bend_nothing_are_left_out_again() -> None:
    contours = polygons([bar(1.0, 0.5)]).between(0.05)
    gone = needless(contours, np.ones((1, len(contours.points))))
    assert len(contours.without(gone).points) == 4
    stop = np.where(np.abs(contours.points[:, 0] - 0.5) < 0.03, 0.5, 1.0)
    kept = contours.without(needless(contours, stop[None]))
    assert 4 < len(kept.points) < len(contours.points)


def test_a_letter_is_the_same_whatever_it_is_built_with() -> None:
    edge = profile("roundover", 0.03, 0.03, 1e-3)
    outlines = [
        glyph_outline(glyph) for glyph in set_words("ESWR", Setting(typeface="playfair-display")).glyphs
    ]
    together = build_bodies(outlines, 0.7, 0.2, edge, edge, 5e-4)
    for outline, body in zip(outlines, together, strict=True):
        alone = build_bodies([outline], 0.7, 0.2, edge, edge, 5e-4)[0]
        np.testing.assert_array_equal(alone.position, body.position)
        np.testing.assert_array_equal(alone.triangles, body.triangles)
