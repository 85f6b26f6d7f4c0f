"""Colour decisions out and in, and against the list's own formula."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Channel, Key, Shot, apply_edit
from dreizack.core.exchange.cdl import CDLError, graded_by, read_cdl, write_cdl
from dreizack.core.optics import Place
from dreizack.core.optics.steps.grade import graded

NUMBERS = st.floats(0.2, 3, allow_nan=False)


@given(
    st.lists(NUMBERS, min_size=3, max_size=3), st.lists(st.floats(-0.9, 0.9), min_size=3, max_size=3), NUMBERS
)
def test_decisions_come_back(slope: list[float], offset: list[float], saturation: float) -> None:
    shot = Shot(name='Ebb & "flow" <1>')
    grade = shot.optics.grade
    grade.slope_r, grade.slope_g, grade.slope_b = slope
    grade.offset_r, grade.offset_g, grade.offset_b = offset
    grade.saturation, grade.contrast = min(saturation, 3), 1.2
    text = write_cdl(shot)
    assert "without contrast 1.2" in text
    found = read_cdl(text.encode())
    for name, value in found.items():
        assert value == pytest.approx(getattr(grade, name), abs=1e-6), name


def test_a_list_of_others_gives_the_picture_that_its_formula_gives() -> None:
    text = """<ColorCorrectionCollection xmlns="urn:ASC:CDL:v1.01"><ColorCorrection id="a"><SOPNode>
      <Slope>1.1 0.9 1.05</Slope><Offset>0.01 -0.02 0.03</Offset><Power>1.2 0.8 1.0</Power></SOPNode>
      <SATNode><Saturation>0.7</Saturation></SATNode></ColorCorrection></ColorCorrectionCollection>"""
    shot = Shot()
    shot.optics.grade.contrast = 1.4
    shot.channels["/optics/grade/slope_r"] = Channel(keys=[Key(frame=0, value=2)])
    edited = apply_edit(shot, graded_by(shot, read_cdl(text.encode()))).shot
    assert edited.channels == {} and edited.optics.grade.contrast == 1
    light = np.array([[[0.2, 0.5, 0.9], [0.0, 1.4, 0.05]]], np.float32)
    values = {f"grade/{name}": value for name, value in edited.optics.grade.model_dump().items()}
    # ASC CDL 1.2, sections 3.1 and 3.2, without its clamps above 1.
    toned = np.maximum(light * [1.1, 0.9, 1.05] + [0.01, -0.02, 0.03], 0) ** [1.2, 0.8, 1.0]
    grey = toned @ [0.2126, 0.7152, 0.0722]
    expected = np.maximum(grey[..., None] + 0.7 * (toned - grey[..., None]), 0)
    np.testing.assert_allclose(graded(light, values, Place(2, 1)), expected, rtol=1e-4, atol=1e-5)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "no XML"),
        (b"<a/>", "no ColorCorrection"),
        (b"<ColorCorrection/>", "neither slope"),
        (b"<ColorCorrection><Slope>1 2</Slope></ColorCorrection>", "Slope holds .1 2., not 3 numbers"),
        (b"<ColorCorrection><Slope>1 x 2</Slope></ColorCorrection>", "not 3 numbers"),
        (b"<ColorCorrection><Slope>nan 1 1</Slope></ColorCorrection>", "slope_r"),
        (b"<ColorCorrection><Slope>99 1 1</Slope></ColorCorrection>", "slope_r"),
        (b'<!DOCTYPE a [<!ENTITY b "bbbb">]><ColorCorrection>&b;</ColorCorrection>', "no XML"),
        (b"x" * 1_100_000, "larger"),
    ],
)
def test_files_that_are_no_decisions_are_refused(data: bytes, says: str) -> None:
    with pytest.raises(CDLError, match=says):
        read_cdl(data)
