"""How strong, and of what colour, the sun of a plate is: against what lights a ground that is known."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from dreizack.core.colour import LUMINANCE
from dreizack.core.document import Light, Shot, Title, Vector, apply_edit
from dreizack.core.library import keep, shelve
from dreizack.core.light.panorama_file import panorama_bytes
from dreizack.core.scene import with_shadow, with_surroundings

Floats = np.ndarray

SKY, GROUND = np.array([0.28, 0.4, 0.58]), np.array([0.2, 0.19, 0.17])
ORIGIN = Vector(x=0.0, y=0.0, z=0.0)
channel = st.floats(0.04, 0.9)


@pytest.fixture(scope="module")
def place(tmp_path_factory: pytest.TempPathFactory) -> str:
    """A picture of a place: an even sky over an even ground."""
    folder = tmp_path_factory.mktemp("library")
    shelve(folder)
    picture = np.empty((64, 128, 3), np.float32)
    picture[:32], picture[32:] = SKY, GROUND
    return keep(folder, panorama_bytes(picture), "panorama", "panorama")


def sunny(elevation: float = 30.0) -> Shot:
    up = np.radians(elevation)
    sun = Light(source="sun", position=Vector(x=float(np.cos(up)), y=float(np.sin(up)), z=0.0), aim=ORIGIN)
    return Shot(things={"title": Title(words="EBB"), "sun": sun})


def changed(shot: Shot, patch: list[dict[str, object]]) -> Shot:
    return apply_edit(shot, patch).shot


def sent(shot: Shot) -> Floats:
    sun = shot.lights["sun"]
    return np.array([sun.tint.r, sun.tint.g, sun.tint.b]) * 2.0**sun.intensity


def left_in_shadow(shot: Shot, slope: float, around: Floats = SKY) -> Floats:
    """What catchers leave of the light (3,) where the sun is kept away from them altogether."""
    whole, rest = (around + sent(shot) * slope) @ LUMINANCE, around @ LUMINANCE
    colour = shot.plate.shadow_colour
    tone = shot.plate.shadow_density * (1 - np.array([colour.r, colour.g, colour.b]))
    return 1 - (1 - rest / whole) * tone


@settings(max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(sun=st.tuples(channel, channel, channel).map(np.array), elevation=st.floats(8, 80))
def test_the_sun_over_a_place_is_found_again(place: str, sun: Floats, elevation: float) -> None:
    slope = float(np.sin(np.radians(elevation)))
    left = SKY / (SKY + sun * slope)
    # Shadows are at most twice as strong in a channel as they are on the whole.
    assume((1 - left).max() < 1.9 * (1 - SKY @ LUMINANCE / ((SKY + sun * slope) @ LUMINANCE)))
    shot = sunny(elevation)
    shot = changed(shot, with_surroundings(shot, place))
    found = changed(shot, with_shadow(shot, 0, left))
    # Where shadows keep nearly everything nothing says of what colour the sun is.
    assert sent(found) == pytest.approx(sun, rel=0.03) or left.max() > 0.96
    assert left_in_shadow(found, slope) == pytest.approx(left, abs=0.01)


@pytest.mark.parametrize("left", [(0.13, 0.23, 0.43), (0.5, 0.4, 0.45), (0.3, 0.2, 0.1)])
def test_it_is_the_same_whether_shadows_or_the_place_are_measured_first(
    place: str, left: tuple[float, float, float]
) -> None:
    shot, measured = sunny(), np.array(left)
    place_first = changed(shot, with_surroundings(shot, place))
    place_first = changed(place_first, with_shadow(place_first, 0, measured))
    shadow_first = changed(shot, with_shadow(shot, 0, measured))
    shadow_first = changed(shadow_first, with_surroundings(shadow_first, place))
    assert sent(shadow_first) == pytest.approx(sent(place_first), rel=0.01)
    assert left_in_shadow(shadow_first, 0.5) == pytest.approx(measured, abs=0.01)
    # Taken once more there is nothing to do.
    assert with_surroundings(shadow_first, place) == []


def test_a_studio_says_nothing_of_the_colour_of_the_sun(place: str) -> None:
    shot = sunny()
    shot.things["sun"].tint.g = 0.8  # type: ignore[union-attr]
    found = changed(shot, with_shadow(shot, 0, np.array([0.13, 0.23, 0.43])))
    assert found.lights["sun"].tint == shot.lights["sun"].tint
    assert found.lights["sun"].intensity != shot.lights["sun"].intensity


def test_a_place_alone_leaves_the_sun_as_it_is(place: str) -> None:
    shot = sunny()
    assert sent(changed(shot, with_surroundings(shot, place))) == pytest.approx(sent(shot))
