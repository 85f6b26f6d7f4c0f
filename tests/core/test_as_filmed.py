"""Words as soft and as dark as the plate they stand in; the plate stays what it is."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np

from dreizack.core.document import Colour, Shot, Title
from dreizack.core.media.finishing import finishing
from dreizack.core.optics import Finishing, Passes, Place, finished, scene_light
from dreizack.core.scene import exposed

BACKDROP = np.array([0.3, 0.2, 0.1])


def passes() -> Passes:
    """A black square with a grey edge to the right."""
    beauty = np.zeros((90, 160, 4), np.float32)
    beauty[30:60, 40:80, 3] = 1
    return Passes(beauty)


def test_softness_is_a_blur_of_words_and_coverage_alone() -> None:
    plain = Finishing(0.0, "plain sRGB", BACKDROP, place=Place(160, 90))
    soft = replace(plain, softness=2 / 90)
    seen = scene_light(passes(), soft)
    sharp = scene_light(passes(), plain)
    # Black over a colour: what is seen is what is left of it.
    expected = BACKDROP * (1 - cv2.GaussianBlur(passes().beauty[..., 3], (0, 0), 2.0))[..., None]
    np.testing.assert_allclose(seen, expected, atol=0.004)
    assert np.abs(seen - sharp).max() > 0.05
    np.testing.assert_array_equal(seen[:15], sharp[:15])


def test_blacks_come_out_as_they_were_measured_whatever_the_exposure_and_view() -> None:
    for exposure, view in ((0.0, "shoulder"), (1.5, "shoulder"), (-1.0, "plain sRGB")):
        shot = Shot(things={"title": Title(words="EBB")})
        shot.backdrop.kind = "plate"
        shot.camera.exposure, shot.camera.view = exposure, view  # type: ignore[assignment]
        shot.plate.filmed.black = Colour(r=0.01, g=0.02, b=0.03)
        settings = finishing(exposed(shot, 0.0), (160, 90))
        shown = finished(passes(), settings)[45, 60] / 255
        codes = 1.055 * np.array([0.01, 0.02, 0.03]) ** (1 / 2.4) - 0.055
        np.testing.assert_allclose(shown, codes, atol=0.006)
        # Where nothing stands the plate is as it is.
        plain = finished(passes(), replace(settings, black=(0.0, 0.0, 0.0)))
        np.testing.assert_array_equal(plain[:25], finished(passes(), settings)[:25])


def test_without_a_plate_nothing_is_done() -> None:
    shot = Shot(things={"title": Title(words="EBB")})
    shot.plate.filmed.blur = 3
    assert exposed(shot, 0.0).filmed is None
