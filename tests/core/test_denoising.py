"""What guides the denoiser, and that it sees all there is."""

from __future__ import annotations

import numpy as np
import pytest

from dreizack.core.document import Channel, Ease, Finish, Key, Shot
from dreizack.core.render import Quality, Window, trace
from dreizack.core.render.sampling.denoise import denoise
from dreizack.core.render.sampling.feature_pass import AT_EDGES, DOUBLINGS, EDGE, SAMPLES, FeaturePass
from dreizack.core.render.sampling.launch import feature_picture, light_picture
from dreizack.core.scene import exposed

from .test_render import stage_of

SIZE = (160, 90)


def guided(shot: Shot) -> tuple[FeaturePass, np.ndarray]:
    stage = stage_of(shot)
    many = feature_picture(stage, stage.at_moment(0), SIZE, Window(0, 0, *SIZE), 512, 0)
    guiding = FeaturePass(stage, SIZE, 100_000)
    alpha = (np.abs(many).sum(axis=-1) > 0).astype(np.float32)
    while not guiding.ready:
        guiding.step(alpha, None)
    return guiding, many


def test_guides_are_traced_again_at_edges_and_only_there(shot: Shot) -> None:
    guiding, many = guided(shot)
    few_and_cover = guiding.picture.copy()
    few = few_and_cover[..., :6]
    seen = np.abs(many).sum(axis=(0, 1))
    while not guiding.done:
        guiding.step(np.zeros(SIZE[::-1], np.float32), None)
    again = (guiding.picture[..., :6] != few).any(axis=-1)
    assert seen.min() > 0 and 0.01 < again.mean() < 0.6
    off, left = (np.sqrt(np.mean((found - many)[again] ** 2)) for found in (few, guiding.picture[..., :6]))
    # Samples are spread evenly: their error falls faster than with the root of their number.
    assert left < off * np.sqrt(SAMPLES / AT_EDGES)
    rows, columns = np.nonzero(again[1:-1, 1:-1])
    around = np.stack([few_and_cover[rows + dy, columns + dx] for dy in range(3) for dx in range(3)])
    assert (np.ptp(around, axis=0) > EDGE - 1e-6).any(axis=-1).all()


def test_coverage_of_a_traced_picture_is_nearly_exact_though_samples_are_few(shot: Shot) -> None:
    stage = stage_of(shot)
    window = Window(0, 0, *SIZE)
    true = light_picture(stage, stage.at_moment(0), SIZE, window, 256, 0)[..., 3]
    edge = (true > 0.02) & (true < 0.98)
    few = light_picture(stage, stage.at_moment(0), SIZE, window, 4, 0)[..., 3]
    found = trace(stage, *SIZE, Quality(4, "fast")).rgba[..., 3]
    off, left = (float(np.sqrt(np.mean((a - true)[edge] ** 2))) for a in (few, found))
    assert edge.sum() > 300 and left < 0.35 * off and left < 0.04
    np.testing.assert_array_equal(found[true == 0], 0)


def test_coverage_stays_what_light_says_where_glass_lets_it_through(shot: Shot) -> None:
    shot.things["title"].finish = Finish(metallic=0, roughness=0.02, transmission=1, ior=1.4)
    stage = stage_of(shot)
    found = trace(stage, *SIZE, Quality(16, "fast")).rgba[..., 3]
    # Guides would take glass for full.
    assert 0.02 < found[found > 0].mean() < 0.9
    guiding, _ = guided(shot)
    assert not guiding.tell_coverage


def test_coverage_that_light_knows_better_stays_nearly_what_it_was(shot: Shot) -> None:
    guiding, _ = guided(shot)
    while not guiding.done:
        guiding.step(np.zeros(SIZE[::-1], np.float32), None)
    alpha = guiding.picture[..., 6] * 0.5
    few, many = (guiding.covered(alpha, np.full(alpha.shape, samples, np.int32)) for samples in (1, 100_000))
    edge = np.abs(few - alpha) > 1e-3
    assert edge.mean() > 0.01 and np.abs(many - alpha).max() < 0.005
    # One ray of light counts as much as any other ray.
    np.testing.assert_allclose(
        few[edge],
        (guiding.picture[..., 6] * guiding.counted + alpha)[edge] / (guiding.counted[edge] + 1),
        rtol=1e-4,
    )
    # Outlines have most.
    doubled = {AT_EDGES << times for times in range(DOUBLINGS + 1)}
    assert {AT_EDGES, AT_EDGES << DOUBLINGS} <= set(np.unique(guiding.counted)) <= {0, SAMPLES, *doubled}


@pytest.mark.parametrize("corner", [(0, 0), (47, 91), (20, 40)])
def test_a_thing_anywhere_is_denoised_as_in_a_picture_of_its_own(corner: tuple[int, int]) -> None:
    rng = np.random.default_rng(4)
    size, (top, left) = (110, 160), corner
    noisy, albedo, normal = (
        np.zeros((*size, 4), np.float32),
        np.zeros((*size, 3), np.float32),
        np.zeros((*size, 3), np.float32),
    )
    thing = (slice(top, top + 60), slice(left, left + 60))
    noisy[thing] = 1
    noisy[thing][..., :3] = rng.gamma(4, 0.25 * 0.4, (60, 60, 3))
    albedo[thing], normal[thing] = 0.5, (0, 0, 1)
    clean = denoise(noisy, albedo, normal, "balanced")
    assert clean[..., :3][noisy[..., 3] == 0].max() == 0
    inside = clean[top + 6 : top + 54, left + 6 : left + 54, :3]
    assert np.abs(inside - 0.4).mean() < 0.02
    assert np.abs(inside - 0.4).mean() < 0.2 * np.abs(noisy[thing][..., :3] - 0.4).mean()


def test_a_picture_of_nothing_stays_one() -> None:
    nothing = np.zeros((40, 60, 4), np.float32)
    assert not denoise(nothing, nothing[..., :3], nothing[..., :3], "fast").any()


def test_outlines_of_what_moves_get_most_rays_too(shot: Shot) -> None:
    shot.camera.shutter_angle = 360
    shot.channels["/things/title/place/position/x"] = Channel(
        keys=[Key(frame=0, value=0, ease=Ease(kind="linear")), Key(frame=11, value=2)]
    )
    stage = stage_of(shot)
    stage.show(exposed(shot, 5))
    assert stage.moments > 4
    guiding = FeaturePass(stage, SIZE, 100_000)
    while not guiding.done:
        guiding.step(np.ones(SIZE[::-1], np.float32), None)
    # Each moment has as many of them.
    assert (guiding.counted >= AT_EDGES << DOUBLINGS - 1).mean() > 0.02


def test_the_border_is_hardly_rougher_than_the_middle() -> None:
    rng = np.random.default_rng(5)
    y, x = np.mgrid[0:96, 0:128]
    truth = 0.3 + 0.1 * np.sin(x / 30) * np.cos(y / 25)
    rgba = np.ones((96, 128, 4), np.float32)
    rgba[..., :3] = (truth * (1 + rng.normal(0, 0.25, truth.shape)))[..., None]
    even = np.full((96, 128, 3), 0.5, np.float32)
    clean = denoise(rgba, even, even, "balanced")[..., 0]

    def rough(along: np.ndarray) -> float:
        return float(np.abs(np.diff(along)).mean())

    borders = [rough(border) for border in (clean[0], clean[-1], clean[:, 0], clean[:, -1])]
    assert np.mean(borders) < 2.5 * rough(clean[20:-20, 20:-20])
