"""Effects that are kept to a part of the picture."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Optics
from dreizack.core.optics import Finishing, Passes, scene_light
from dreizack.core.optics.area import area_share, tone_share
from dreizack.core.optics.settings import Place
from dreizack.core.scene.baking.optics import numbers_below

SIZE = (90, 160)
AREAS = ("grade", "blur", "bend", "diffusion")


def values(**changed: float) -> dict[str, float]:
    optics = Optics()
    found: dict[str, float] = {}
    for name in numbers_below(optics):
        at: object = optics
        for part in name.split("/"):
            at = getattr(at, part)
        found[name] = float(at)  # type: ignore[arg-type]
    return found | {name.replace("__", "/"): value for name, value in changed.items()}


def share(**area: float) -> np.ndarray:
    of = values(**{f"grade__area__{name}": value for name, value in area.items()})
    found = area_share(of, "grade", Place(SIZE[1], SIZE[0]), SIZE)
    assert found is not None
    return found[..., 0]


@given(
    st.floats(0, 1), st.floats(0, 1), st.floats(0.1, 2), st.floats(0.1, 2), st.floats(-400, 400),
    st.floats(0, 1), st.floats(0, 2), st.floats(-1, 1).filter(lambda v: abs(v) > 0.01),
)  # fmt: skip
def test_shares_are_shares_and_the_opposite_is_the_rest(
    x: float, y: float, w: float, h: float, angle: float, roundness: float, softness: float, limited: float
) -> None:
    area = {"x": x, "y": y, "width": w, "height": h, "angle": angle, "roundness": roundness}
    area["softness"] = softness
    found = share(**area, limited=limited)
    assert found.min() >= -1e-6 and found.max() <= 1 + 1e-6
    inside, outside = share(**area, limited=1), share(**area, limited=-1)
    np.testing.assert_allclose(inside + outside, 1, atol=1e-5)


def test_a_hard_ellipse_and_box_have_their_areas() -> None:
    # In heights of the picture: 0.5 across, 0.4 down.
    ellipse = share(limited=1, width=0.5, height=0.4, softness=0, roundness=1)
    assert ellipse.sum() / SIZE[0] ** 2 == pytest.approx(np.pi / 4 * 0.5 * 0.4, rel=0.02)
    box = share(limited=1, width=0.5, height=0.4, softness=0, roundness=0, angle=30)
    assert box.sum() / SIZE[0] ** 2 == pytest.approx(0.5 * 0.4, rel=0.02)


def test_angles_turn_to_the_left() -> None:
    lying = share(limited=1, width=0.9, height=0.1, softness=0, roundness=0, angle=45)
    rows, columns = np.nonzero(lying > 0.5)
    # Up (rows fall) as it goes to the right.
    assert np.corrcoef(rows, columns)[0, 1] < -0.9


@pytest.mark.parametrize(
    ("effect", "set_to"),
    [
        ("grade", {"grade/saturation": 0.0}),
        ("blur", {"blur/length": 0.2}),
        ("bend", {"bend/bulge": 0.5, "bend/reach": 3.0}),
        ("diffusion", {"diffusion/amount": 0.8, "diffusion/radius": 0.2}),
    ],
)
def test_each_effect_leaves_what_is_outside(effect: str, set_to: dict[str, float]) -> None:
    rng = np.random.default_rng(2)
    beauty = np.concatenate([rng.uniform(0, 1, (*SIZE, 3)), np.ones((*SIZE, 1))], axis=2).astype(np.float32)

    def made(**area: float) -> np.ndarray:
        of = values() | set_to | {f"{effect}/area/{name}": value for name, value in area.items()}
        return scene_light(Passes(beauty), Finishing(0.0, "shoulder", np.zeros(3), of))

    everywhere = made()
    there = {"x": 0.3, "width": 0.4, "height": 0.4, "softness": 0.1}
    inside, outside = made(limited=1, **there), made(limited=-1, **there)
    middle, far = (slice(40, 50), slice(43, 53)), (slice(None), slice(110, None))
    np.testing.assert_allclose(inside[far], beauty[far][..., :3], atol=1e-6)
    np.testing.assert_allclose(inside[middle], everywhere[middle], atol=1e-6)
    np.testing.assert_allclose(outside[far], everywhere[far], atol=1e-6)
    np.testing.assert_allclose(outside[middle], beauty[middle][..., :3], atol=1e-6)


def test_a_window_of_a_picture_has_the_same_area() -> None:
    of = values(grade__area__limited=1, grade__area__angle=20)
    whole = area_share(of, "grade", Place(160, 90), (90, 160))
    part = area_share(of, "grade", Place(160, 90, left=37, top=11), (40, 50))
    assert whole is not None and part is not None
    np.testing.assert_allclose(part, whole[11:51, 37:87], atol=1e-6)


def by_tone(light: np.ndarray, **area: float) -> np.ndarray:
    of = values(**{f"grade__area__{name}": value for name, value in area.items()})
    found = tone_share(of, "grade", np.asarray(light, np.float32))
    assert found is not None
    return found[..., 0]


def test_brightness_is_told_in_stops_from_middle_grey() -> None:
    stops = np.linspace(-6, 6, 49)
    greys = np.repeat((0.18 * 2.0**stops)[None, :, None], 3, axis=2)
    found = by_tone(greys, tone=1, level=1, tone_softness=2)[0]
    np.testing.assert_allclose(found[stops <= 0], 0, atol=1e-6)
    np.testing.assert_allclose(found[stops >= 2], 1, atol=1e-6)
    assert found[stops == 1][0] == pytest.approx(0.5, abs=1e-5) and (np.diff(found) >= -1e-7).all()
    # The opposite is the rest; half of it leaves half.
    np.testing.assert_allclose(by_tone(greys, tone=-1, level=1)[0] + found, 1, atol=1e-6)
    np.testing.assert_allclose(by_tone(greys, tone=0.5, level=1)[0], 0.5 + found / 2, atol=1e-6)
    # Luminance of Rec.709, not the mean; black and less is dark.
    assert by_tone([[[0, 1, 0]]], tone=1, level=0)[0, 0] > by_tone([[[1, 0, 0]]], tone=1, level=0)[0, 0]
    assert by_tone([[[0, 0, 0], [-1, -1, -1]]], tone=1, level=-8).max() == 0


def test_a_grade_of_the_bright_leaves_the_dark() -> None:
    beauty = np.ones((*SIZE, 4), np.float32)
    beauty[..., :3] = np.where(np.arange(SIZE[1])[None, :, None] < 80, 0.02, 1.5) * [1.0, 0.6, 0.3]
    of = values(
        grade__saturation=0.0, grade__area__tone=1, grade__area__level=0, grade__area__tone_softness=1
    )
    found = scene_light(Passes(beauty), Finishing(0.0, "shoulder", np.zeros(3), of))
    np.testing.assert_allclose(found[:, :80], beauty[:, :80, :3], atol=1e-6)
    np.testing.assert_allclose(np.ptp(found[:, 80:], axis=2), 0, atol=1e-5)
    # Together with an area it is at work where both are.
    of |= {"grade/area/limited": 1.0, "grade/area/x": 0.9, "grade/area/width": 0.2}
    both = scene_light(Passes(beauty), Finishing(0.0, "shoulder", np.zeros(3), of))
    np.testing.assert_allclose(both[:, 80:100], beauty[:, 80:100, :3], atol=1e-5)
    assert np.ptp(both[45, 144]) < 1e-4
