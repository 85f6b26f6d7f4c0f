"""From passes to the finished picture: a declared list of steps in a fixed order, the same for whoever shows
or delivers it.

Steps before the view transform work in scene light; nothing after tracing traces anything again.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..colour import from_display
from .area import limits, within
from .bands import by_bands
from .passes import Passes, PassName
from .plate_lens import lens_bent
from .settings import Place, Values
from .spread import blurred
from .steps.bend import bent
from .steps.film import grained, halated
from .steps.flare import flared
from .steps.focus import FocusBlur, out_of_focus
from .steps.grade import boxed, graded
from .steps.lens import bloomed, diffused, distorted, fringed, glinted, rayed, streaked, veiled, vignetted
from .steps.plate_grain import PlateGrain, with_plate_grain
from .steps.tones import Tones, toned
from .steps.warp import drawn_out, woven
from .view import CURVES, display_values, to_display

Floats = NDArray[np.float32]


@dataclass(frozen=True)
class Finishing:
    """What the steps go by at one frame: ``exposure`` in stops, name of the ``view`` transform, the
    ``backdrop``: one colour (3,) or a picture, scene-linear, that broadcasts to (height, width, 3);
    ``optics``, values by pointer below them (none: nothing of it), and the ``place`` of the picture in the
    whole one (none: it is whole); ``shadow_tone``, what full shadow takes of the backdrop, channel by
    channel; ``bending``, the radial term of the lens that the backdrop was seen through, and
    ``plate_grain`` its grain, for what is before it; ``hidden`` (height, width, 1), how much of what was
    traced is hidden behind something in the backdrop; ``tones``, curves and table of the grade, and what is
    ``graded``; ``softness``, how far what was traced is blurred, in heights of the whole picture, and
    ``black``, the light that lies over it at least; ``mattes`` (height, width, 1), by effect, how much of it
    is at work on what is seen; ``displaced_by``, the picture of the library that moves what is seen;
    ``focus``, what blurs what was traced sharp."""

    exposure: float
    view: str
    backdrop: NDArray[np.floating]
    optics: Values = field(default_factory=dict)
    place: Place | None = None
    shadow_tone: tuple[float, float, float] = (1.0, 1.0, 1.0)
    bending: float = 0.0
    plate_grain: PlateGrain | None = None
    hidden: NDArray[np.floating] | None = None
    tones: Tones | None = None
    graded: str = "everything"
    softness: float = 0.0
    black: tuple[float, float, float] = (0.0, 0.0, 0.0)
    mattes: dict[str, Floats] = field(default_factory=dict)
    displaced_by: str = ""
    focus: FocusBlur | None = None


@dataclass(frozen=True)
class Step:
    """One step: ``apply`` takes scene light (height, width, 3), passes as filmed and settings and answers
    scene light of that size.

    ``needs`` names the passes it cannot do without; ``margin`` how far around a window it looks, in shares of
    the picture's height, so that a window comes out as the whole picture does there. ``kind``: what
    it does besides changing colours: light "spreads" to where there was none, or the picture "moves".
    """

    name: str
    apply: Callable[[Floats, Passes, Finishing], Floats]
    needs: tuple[PassName, ...] = ()
    margin: float = 0.0
    kind: Literal["colours", "spreads", "moves"] = "colours"


def as_filmed(passes: Passes, settings: Finishing) -> Passes:
    """What was traced as the camera of the backdrop would have filmed it: out of focus where it is, bent and
    softened by its lens, no darker than its blacks, hidden behind what stands before it."""
    picture = passes.beauty
    if settings.focus is not None:
        picture = out_of_focus(picture, settings.focus, settings.place or Place(*passes.size))
        passes = Passes(picture)
    if any(settings.black):
        picture = picture.copy()
        picture[..., :3] += np.array(settings.black, np.float32) * passes.coverage
    if settings.bending:
        picture = lens_bent(picture, settings.bending, settings.place or Place(*passes.size))
    if settings.softness:
        picture = blurred(picture, settings.softness * (settings.place or Place(*passes.size)).height)
    if settings.hidden is not None:
        picture = picture * (1 - settings.hidden.astype(np.float32))
    return passes if picture is passes.beauty else Passes(picture)


def over_backdrop(light: Floats, passes: Passes, settings: Finishing) -> Floats:
    """Light over what is behind it (Porter & Duff, Compositing Digital Images, 1984: over, premultiplied),
    and that in the shadow that falls on it."""
    light = passes.beauty[..., :3]
    left = 1 - passes.coverage
    if passes.beauty.shape[2] > 4:
        left = np.maximum(left - passes.shadow * np.array(settings.shadow_tone, np.float32), 0)
    behind = np.broadcast_to(settings.backdrop.astype(np.float32), light.shape)
    return np.asarray(by_bands(lambda own, open_, far: own + open_ * far, light, left, behind), np.float32)


def grained_as_plate(light: Floats, passes: Passes, settings: Finishing) -> Floats:
    """The plate's grain on what was put into it."""
    if settings.plate_grain is None:
        return light
    coverage = passes.coverage
    place = settings.place or Place(*passes.size)
    return with_plate_grain(light, coverage, settings.plate_grain, place, settings.view, settings.exposure)


def exposed_light(light: Floats, passes: Passes, settings: Finishing) -> Floats:
    """Light times two to the power of the exposure."""
    result: Floats = light * np.float32(2.0**settings.exposure)
    return result


def graded_where(light: Floats, passes: Passes, settings: Finishing) -> Floats:
    """Grade, curves and table on the whole picture, on titles alone or on what is behind them."""
    if not settings.optics:
        return light
    place = settings.place or Place(*passes.size)
    made = graded(light, settings.optics, place)
    made = toned(made, settings.optics, settings.tones, settings.view)
    share = limits(settings.optics, "grade", place, light, settings.mattes.get("grade"))
    if made is light or (settings.graded == "everything" and share is None):
        return made
    if settings.graded != "everything":
        taken = passes.coverage
        taken = taken if settings.graded == "titles" else 1 - taken
        share = taken if share is None else share * taken
    assert share is not None
    result: Floats = light + share * (made - light)
    return result


def grade_lattice(settings: Finishing, side: int = 33) -> Floats:
    """Grade, curves and table as a lattice (side, side, side, 3) of shown colours, by red, green and blue:
    what of the optics goes by a pixel's colour alone. For a view transform that has no inverse here the
    shoulder stands."""
    steps = np.linspace(0, 1, side, dtype=np.float32)
    shown = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1)
    view = settings.view if settings.view in CURVES else "shoulder"
    light = from_display(shown, view).reshape(side * side, side, 3)
    if settings.optics:
        light = graded(light, settings.optics, Place(side, side * side))
        light = toned(light, settings.optics, settings.tones, settings.view)
    return display_values(light, view).reshape(shown.shape)


def optical(
    apply: Callable[[Floats, Values, Place], Floats],
) -> Callable[[Floats, Passes, Finishing], Floats]:
    """A step of the optics: nothing where there are none."""

    def step(light: Floats, passes: Passes, settings: Finishing) -> Floats:
        if not settings.optics:
            return light
        return apply(light, settings.optics, settings.place or Place(*passes.size))

    return step


def limited(
    effect: str, apply: Callable[[Floats, Values, Place], Floats]
) -> Callable[[Floats, Passes, Finishing], Floats]:
    """A step of the optics that is kept to its area."""
    kept = within(effect, apply)

    def step(light: Floats, passes: Passes, settings: Finishing) -> Floats:
        if not settings.optics:
            return light
        place = settings.place or Place(*passes.size)
        return kept(light, settings.optics, place, settings.mattes.get(effect))

    return step


def bent_where(light: Floats, passes: Passes, settings: Finishing) -> Floats:
    """The picture bent, in its area."""
    by = settings.displaced_by
    return limited("bend", lambda own, of, place: bent(own, of, place, by))(light, passes, settings)


# In order: what is behind, the lens, exposure, the plate's grain, the film, the grade; the view transform
# comes after all of them, and bars are black whatever it is.
STEPS: tuple[Step, ...] = (
    Step("backdrop", over_backdrop),
    Step("bending", bent_where, kind="moves"),
    Step("blur", limited("blur", drawn_out), kind="moves"),
    Step("weave", optical(woven), kind="moves"),
    Step("distortion", optical(distorted), kind="moves"),
    Step("aberration", optical(fringed), kind="moves"),
    Step("diffusion", limited("diffusion", diffused), kind="spreads"),
    Step("bloom", optical(bloomed), kind="spreads"),
    Step("streak", optical(streaked), kind="spreads"),
    Step("glints", optical(glinted), kind="spreads"),
    Step("rays", optical(rayed), kind="spreads"),
    Step("flare", optical(flared), kind="spreads"),
    Step("veil", optical(veiled), kind="spreads"),
    Step("vignette", optical(vignetted)),
    Step("exposure", exposed_light),
    Step("plate grain", grained_as_plate),
    Step("halation", optical(halated), kind="spreads"),
    Step("grain", optical(grained)),
    Step("grade", graded_where),
    Step("letterbox", optical(boxed)),
)


def needed_passes(steps: Sequence[Step] = STEPS) -> tuple[PassName, ...]:
    """Names of the passes that the tracer has to give for these steps."""
    return tuple(dict.fromkeys(name for step in steps for name in step.needs))


def margin_of(height: int, steps: Sequence[Step] = STEPS) -> int:
    """Pixels around a window that must be there for these steps to make the same of it as of a whole picture
    so high."""
    return int(np.ceil(sum(step.margin for step in steps) * height))


def scene_light(passes: Passes, settings: Finishing, steps: Sequence[Step] = STEPS) -> Floats:
    """Scene light (height, width, 3) after all steps: what is judged, and what the view transform is put
    over."""
    passes = as_filmed(passes, settings)
    light = passes.beauty[..., :3]
    for step in steps:
        light = step.apply(light, passes, settings)
    return light


def finished(passes: Passes, settings: Finishing, steps: Sequence[Step] = STEPS) -> NDArray[np.uint8]:
    """The finished 8-bit picture (height, width, 3), R'G'B'."""
    return to_display(scene_light(passes, settings, steps), settings.view)
