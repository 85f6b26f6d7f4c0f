"""Curves, tables of colours, tints and graphs of pictures: against what is known of them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import PyOpenColorIO
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import PchipInterpolator

from dreizack.core.colour import from_acescct, from_display, luminance, to_acescct, view_curve
from dreizack.core.document import Optics, Shot
from dreizack.core.document.tones import Curves
from dreizack.core.optics import (
    Finishing,
    Passes,
    TableFileError,
    Tones,
    grade_lattice,
    histogram,
    read_cube,
    scene_light,
    targets,
    tone_lattices,
    vectorscope,
    waveform,
    write_cube,
)
from dreizack.core.optics.settings import Place
from dreizack.core.optics.steps.grade import graded, tint_of
from dreizack.core.optics.steps.tones import curved, hues, monotone, toned
from dreizack.core.optics.steps.warp import woven
from dreizack.core.scene import bake
from dreizack.core.scene.baking.optics import numbers_below


def plain(**changes: float) -> dict[str, float]:
    """Values of the optics as they are in a new shot, but for some."""
    tree = Optics().model_dump()
    values = {}
    for name in numbers_below(Optics()):
        here = tree
        for part in name.split("/"):
            here = here[part]
        values[name] = float(here)  # type: ignore[arg-type]
    return values | {name.replace("__", "/"): value for name, value in changes.items()}


def some_light(seed: int = 1, high: float = 4.0) -> np.ndarray:
    return (np.random.default_rng(seed).uniform(0, 1, (24, 32, 3)) ** 3 * high).astype(np.float32)


def test_the_logarithm_is_that_of_the_academy() -> None:
    config = PyOpenColorIO.Config.CreateFromBuiltinConfig("cg-config-v2.2.0_aces-v1.3_ocio-v2.4")
    light = np.geomspace(1e-4, 60, 200, dtype=np.float32)[:, None].repeat(3, axis=1).copy()
    wanted = light.copy()
    config.getProcessor("ACEScg", "ACEScct").getDefaultCPUProcessor().applyRGB(wanted)
    assert np.allclose(to_acescct(light), wanted, atol=1e-4)
    assert np.allclose(from_acescct(to_acescct(light)), light, rtol=1e-4)


xs = st.lists(st.floats(0, 1), min_size=3, max_size=9, unique_by=lambda v: round(v, 2))


@given(xs, st.integers(0, 1000))
def test_curves_go_through_their_points_and_never_overshoot(across: list[float], seed: int) -> None:
    x = np.sort(np.round(across, 2))
    y = np.random.default_rng(seed).uniform(0, 1, len(x))
    at = np.linspace(-0.2, 1.2, 400)
    made = monotone(np.stack([x, y], axis=1), at)
    assert np.allclose(monotone(np.stack([x, y], axis=1), x), y)
    assert made.min() >= y.min() - 1e-9 and made.max() <= y.max() + 1e-9
    inner = (at >= x[1]) & (at <= x[-2])
    # Between inner points another reader of the same paper agrees.
    assert np.allclose(made[inner], PchipInterpolator(x, y)(at[inner]), atol=0.35 * np.ptp(y) + 1e-9)


def test_straight_curves_do_nothing_and_bent_ones_bend_the_logarithm() -> None:
    light = some_light()
    assert np.allclose(curved(light, Tones()), light, atol=1e-4)
    lifted = Tones(all=((0.0, 0.1), (1.0, 1.0)))
    codes = to_acescct(light)
    assert np.allclose(to_acescct(curved(light, lifted)), 0.1 + 0.9 * codes, atol=1e-3)
    red = curved(light, Tones(red=((0.0, 0.0), (1.0, 0.5))))
    assert np.allclose(red[..., 1:], light[..., 1:], rtol=1e-3, atol=1e-4)
    assert (red[..., 0] <= light[..., 0] + 1e-4).all()


def test_saturation_by_hue_keeps_luminance_and_leaves_other_hues() -> None:
    light = np.array([[[0.8, 0.1, 0.1], [0.1, 0.1, 0.8], [0.3, 0.3, 0.3]]], np.float32)
    assert np.allclose(hues(light), [[0, 2 / 3, 0]], atol=1e-6)
    made = curved(light, Tones(saturation=((0.0, 0.0), (0.2, 0.5), (0.8, 0.5), (1.0, 0.0))))
    assert np.allclose(made[0, 0], luminance(light[0, 0]), atol=1e-3)
    assert np.allclose(made[0, 1], light[0, 1], atol=1e-3)
    assert np.allclose(made[0, 2], light[0, 2], atol=1e-3)


def test_lattices_stand_for_curves_and_tables() -> None:
    tones = Tones(all=((0.0, 0.0), (0.35, 0.3), (0.6, 0.68), (1.0, 1.0)), blue=((0.0, 0.05), (1.0, 0.95)))
    lattice, none = tone_lattices(tones, "shoulder")
    assert lattice is not None and none is None and lattice.shape == (33, 33, 33, 3)
    table = replace(read_cube(write_cube(lattice, "x").encode()))
    light = some_light()
    assert np.abs(table(to_acescct(light)) - to_acescct(curved(light, tones))).max() < 0.012


@pytest.mark.parametrize("side", [2, 5, 33])
def test_a_table_is_read_back_and_looked_up_as_its_neighbours_say(side: int) -> None:
    steps = np.linspace(0, 1, side, dtype=np.float32)
    grid = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1)
    matrix = np.array([[0.8, 0.1, 0.05], [0.1, 0.7, 0.1], [0.0, 0.2, 0.75]], np.float32)
    table = read_cube(write_cube(grid @ matrix.T, "a 'quoted\" title").encode())
    colours = np.random.default_rng(2).uniform(0, 1, (50, 3)).astype(np.float32)
    # What is linear is so between the steps too.
    assert np.allclose(table(colours), colours @ matrix.T, atol=2e-6)
    assert np.allclose(table(np.full(3, 7.0, np.float32)), matrix.sum(axis=1), atol=1e-5)


def test_curves_of_a_table_and_its_range() -> None:
    text = "LUT_1D_SIZE 3\nDOMAIN_MIN -1 -1 -1\nDOMAIN_MAX 1 1 1\n# note\n0 0 0\n0.5 0.2 0.5\n1 1 1\n"
    table = read_cube(text.encode())
    assert not table.is_lattice
    assert np.allclose(table(np.array([0.0, 0.5, -1.0], np.float32)), [0.5, 0.6, 0.0])


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no size"),
        ("LUT_3D_SIZE 1\n", "line 1: a size lies between"),
        ("LUT_3D_SIZE 900\n", "line 1: a size lies between"),
        ("LUT_3D_SIZE 2\n0 0 0\n", "there are 1 colours; of this size there must be 8"),
        ("LUT_1D_SIZE 2\n0 0 0\n1 1 nan\n", "not finite"),
        ("LUT_1D_SIZE 2\n0 0 0\n1 1 1e9\n", "far too large"),
        ("LUT_1D_SIZE 2\n0 0 0\n1 1\n", "line 3 has 2 numbers"),
        ("LUT_1D_SIZE 2\n0 0 0\n1 1 x\n", "no number"),
        ("LUT_1D_SIZE 2\nLUT_3D_SIZE 2\n", "second size"),
        ("LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1\n", "ends where it begins"),
        ("LUT_1D_SIZE 2\nDOMAIN_MIN 1\n", "line 2: there must be 3 numbers"),
        ("SHAPER 3\n", "line 1: 'SHAPER' is not known"),
    ],
)
def test_tables_that_are_none_are_refused_with_their_line(text: str, says: str) -> None:
    with pytest.raises(TableFileError, match=says):
        read_cube(text.encode())
    with pytest.raises(TableFileError):
        read_cube(b"\xff\xfe\x00binary")


def test_the_whole_grade_as_a_table_does_what_the_grade_does() -> None:
    values = plain(grade__contrast=1.2, grade__warmth=0.3, grade__saturation=1.3)
    settings = Finishing(0.0, "shoulder", np.zeros(3), values)
    table = read_cube(write_cube(grade_lattice(settings, 33), "t").encode())
    shown = np.random.default_rng(4).uniform(0.05, 0.9, (60, 3)).astype(np.float32)
    wanted = view_curve(graded(from_display(shown)[None], values, Place(1, 1))[0])
    # Where a channel falls to nothing there is a corner between the steps.
    off = np.abs(table(shown) - wanted)
    assert off.mean() < 0.003 and np.quantile(off, 0.95) < 0.015


def test_strength_mixes_and_none_leaves_it() -> None:
    light, tones = some_light(), Tones(all=((0.0, 0.2), (1.0, 1.0)))
    full = toned(light, plain(), tones, "shoulder")
    half = toned(light, plain(curves__strength=0.5), tones, "shoulder")
    assert np.allclose(half, (full + light) / 2, atol=1e-5)
    assert toned(light, plain(curves__strength=0.0), tones, "shoulder") is light
    assert toned(light, plain(), None, "shoulder") is light


@given(st.floats(-720, 720))
def test_tints_are_full_colours_of_one_luminance(hue: float) -> None:
    colour = tint_of(hue)
    assert float(luminance(colour)) == pytest.approx(1, abs=1e-5) and colour.min() == 0
    assert float(hues(colour)) * 360 == pytest.approx(hue % 360, abs=0.05) or hue % 360 > 359.9


def test_split_tint_and_vibrance_keep_luminance() -> None:
    light = some_light(high=1.0)
    tinted = graded(light, plain(grade__dark_tint=0.6, grade__light_tint=0.4), Place(32, 24))
    assert np.allclose(luminance(tinted), luminance(light), rtol=0.02, atol=1e-3)
    grey = np.full((2, 2, 3), 0.02, np.float32)
    shadow = graded(grey, plain(grade__dark_tint=1.0, grade__dark_hue=240.0), Place(2, 2))
    assert (shadow[..., 2] > shadow[..., 0]).all()
    pale, full = np.array([[[0.5, 0.45, 0.4]]], np.float32), np.array([[[0.5, 0.0, 0.0]]], np.float32)
    assert np.ptp(graded(pale, plain(grade__vibrance=1.0), Place(1, 1))) > 1.5 * np.ptp(pale)
    assert np.allclose(graded(full, plain(grade__vibrance=1.0), Place(1, 1)), full, atol=1e-6)


def test_contrast_turns_about_its_pivot() -> None:
    light = np.array([[[0.72] * 3, [0.18] * 3]], np.float32)
    made = graded(light, plain(grade__contrast=2.0, grade__pivot=2.0), Place(2, 1))
    assert np.allclose(made[0, 0], 0.72, rtol=1e-5) and np.allclose(made[0, 1], 0.045, rtol=1e-5)


@pytest.mark.parametrize("reaches", ["titles", "what is behind"])
def test_a_grade_of_titles_or_of_what_is_behind_leaves_the_other(reaches: str) -> None:
    beauty = np.zeros((6, 8, 4), np.float32)
    beauty[:, :4] = (0.5, 0.4, 0.3, 1)
    settings = Finishing(
        0.0, "shoulder", np.array([0.2, 0.2, 0.2]), plain(grade__slope_r=2.0), graded=reaches
    )
    made = scene_light(Passes(beauty), settings)
    changed = [made[0, 0, 0] > 0.9, made[0, 7, 0] > 0.35]
    assert changed == [reaches == "titles", reaches != "titles"]


def test_weave_wanders_and_comes_to_nothing_at_rest() -> None:
    shot = Shot()
    assert "weave/x" not in bake(shot).optics
    shot.optics.weave.amount, shot.optics.weave.turn = 0.01, 0.5
    found = bake(shot, np.arange(120.0)).optics
    assert 0.002 < np.abs(found["weave/x"]).max() <= 0.01 and np.abs(found["weave/angle"]).max() <= 0.5
    assert np.abs(np.diff(found["weave/x"])).max() > 0
    assert not np.allclose(found["weave/x"], found["weave/y"])
    light = some_light()
    moved = woven(light, {"weave/x": 3 / 24, "weave/y": 0.0}, Place(32, 24))
    assert np.allclose(moved[:, 3:], light[:, :-3], atol=2e-2)
    assert woven(light, {}, Place(32, 24)) is light


def test_graphs_tell_what_is_there() -> None:
    ramp = np.repeat(np.arange(256, dtype=np.uint8)[None], 40, axis=0)[..., None].repeat(3, axis=2)
    wave = waveform(ramp, 256, 128)
    lit = np.argwhere(wave.max(axis=2) > 100)
    # Bright is up: a ramp rises from the lower left to the upper right.
    assert np.abs(lit[:, 0] - (127 - lit[:, 1] * 127 // 255)).max() <= 1
    apart = waveform(ramp, 240, 100, apart=True)
    assert apart[:, :80, 0].max() > 150 and apart[:, :80, 1].max() < apart[:, :80, 0].max()
    dark = histogram(np.full((9, 9, 3), 10, np.uint8), 256, 60)
    assert dark[:, 8:13].max() > 100 and dark[:, 40:].max() == 0
    grey = vectorscope(np.full((9, 9, 3), 128, np.uint8), 101)
    assert np.argwhere(grey.max(axis=2) > 0).tolist() == [[50, 50]]
    for name, x, y in targets():
        bar = {"R": (191, 0, 0), "Y": (191, 191, 0), "G": (0, 191, 0), "C": (0, 191, 191)}.get(name)
        if bar:
            seen = np.argwhere(vectorscope(np.full((9, 9, 3), bar, np.uint8), 200).max(axis=2) > 0)
            assert np.abs(seen[0] - [y * 200, x * 200]).max() < 1.5


@pytest.mark.parametrize("points", [[(0, 0), (0, 1)], [(0.5, 0), (0.2, 1)], [(0, 0), (1.2, 1)], [(0, 0)]])
def test_curves_that_run_back_are_refused(points: list[tuple[float, float]]) -> None:
    with pytest.raises(ValueError, match=r"curve|at least 2"):
        Curves(all=points)
