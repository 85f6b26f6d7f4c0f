"""What lens, film and grade make of a picture, in the order in which they come."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import Field

from .area import Area
from .bend import Bend
from .ground import Colour, Section, choice, colour, number, thing_name
from .plain_text import Line
from .tones import Curves, Table


def _amount(tells: str, high: float = 1.0, step: float = 0.002) -> Any:
    return number(0.0, 0, high, label="amount", step=step, tells=tells)


def _radius(default: float, tells: str) -> Any:
    return number(default, 0.0, 2.0, label="radius", unit="× h", step=0.002, tells=tells)


class Distortion(Section):
    """Lines bend outward or inward towards the edges of the picture."""

    amount: float = number(
        0.0, -0.6, 0.6, label="amount", step=0.002, tells="Above 0 lines bulge outward, below 0 inward."
    )


class Aberration(Section):
    """Colours are imaged at different sizes, so that edges far from the middle have fringes."""

    amount: float = number(
        0.0,
        -0.05,
        0.05,
        label="amount",
        step=0.0002,
        tells="How much larger red is imaged than blue, as a share of the picture.",
    )


class Bloom(Section):
    """Light that spreads around what is bright, as in every lens: what is spread is missing where it came
    from."""

    amount: float = _amount("Which share of the light is spread.")
    radius: float = _radius(0.16, "How far the widest of it reaches, in heights of the picture.")
    falloff: float = number(
        1.0,
        0,
        4,
        label="falloff",
        step=0.01,
        tells="At 0 wide and even; higher keeps it close to what is bright.",
    )
    threshold: float = number(
        0.0,
        0,
        50,
        label="from",
        step=0.01,
        tells="Only what is brighter than this spreads; at 0 everything does.",
    )
    knee: float = number(0.5, 0, 1, label="knee", step=0.01, tells="How softly that begins.")
    tint: Colour = colour(1, 1, 1, label="tint", tells="Colour of what is spread.")


class Diffusion(Section):
    """A filter before the lens: sharpness stays, and a soft picture lies over it."""

    amount: float = _amount("How much of the soft picture lies over the sharp one.")
    radius: float = _radius(0.02, "How soft it is.")
    area: Area = Field(default_factory=Area, title="area of the diffusion")


class Streak(Section):
    """Lines of light through what is bright, as cylindrical lenses draw them."""

    amount: float = _amount("How strong they are.", 4.0, 0.01)
    length: float = number(
        0.5,
        0.0,
        2.0,
        label="length",
        unit="× h",
        step=0.005,
        tells="How far they run, in heights of the picture.",
    )
    angle: float = number(
        0.0, -360, 360, label="angle", unit="°", step=0.5, tells="0 runs across the picture."
    )
    threshold: float = number(
        1.0, 0, 50, label="from", step=0.01, tells="Only what is brighter than this has one."
    )
    knee: float = number(0.5, 0, 1, label="knee", step=0.01, tells="How softly that begins.")
    tint: Colour = colour(0.45, 0.65, 1, label="tint", tells="Colour of the lines.")


class Glints(Section):
    """Stars on small highlights, as a grating before the lens makes them; they come and go with those."""

    amount: float = _amount("How strong they are.", 8.0, 0.01)
    points: int = Field(
        4,
        ge=2,
        le=12,
        title="points",
        description="How many arms each has; an even number.",
        json_schema_extra={"keyable": False, "unit": "", "step": 2},
    )
    length: float = number(
        0.08,
        0.0,
        1.0,
        label="length",
        unit="× h",
        step=0.002,
        tells="How far the arms reach, in heights of the picture.",
    )
    angle: float = number(
        45.0, -360, 360, label="angle", unit="°", step=0.5, tells="How the arms are turned, all of them."
    )
    threshold: float = number(
        2.0, 0, 50, label="from", step=0.01, tells="Only highlights that are brighter than this have one."
    )
    size: float = number(
        0.008,
        0.001,
        0.2,
        label="highlights up to",
        unit="× h",
        step=0.0005,
        tells="What is larger than this, like a lit face or the sky, has none.",
    )
    tint: Colour = colour(1, 1, 1, label="tint", tells="Colour of the arms.")


class Rays(Section):
    """Light that runs outward from a place, and is held up by what stands before it."""

    amount: float = _amount("How strong they are.", 8.0, 0.01)
    light: Line = thing_name(
        label="from", tells="The light they come from; none: the place below.", of="light"
    )
    x: float = number(
        0.5, -2, 3, label="across", step=0.002, tells="The place in the picture, 0 to 1 from the left."
    )
    y: float = number(0.35, -2, 3, label="down", step=0.002, tells="0 to 1 from the top.")
    length: float = number(
        0.6, 0, 1, label="length", step=0.005, tells="How far outward they run; 1 is all the way."
    )
    threshold: float = number(
        0.8, 0, 50, label="from light of", step=0.01, tells="What is darker than this sends none."
    )
    tint: Colour = colour(1, 0.92, 0.8, label="tint", tells="Colour of the rays.")


class Flare(Section):
    """What a lens makes of a light that shines into it: a glow, a star, and mirror images of the opening
    along a line through the middle of the picture."""

    amount: float = _amount("How bright it is.", 8.0, 0.01)
    light: Line = thing_name(label="of", tells="The light it belongs to; none: the place below.", of="light")
    x: float = number(
        0.3, -2, 3, label="across", step=0.002, tells="The place in the picture, 0 to 1 from the left."
    )
    y: float = number(0.3, -2, 3, label="down", step=0.002, tells="0 to 1 from the top.")
    size: float = number(
        0.03, 0.001, 1, label="size", unit="× h", step=0.001, tells="How large the light itself looks."
    )
    star: float = number(0.6, 0, 4, label="star", step=0.01, tells="How strong its rays are.")
    blades: int = Field(
        6,
        ge=3,
        le=16,
        title="blades",
        description="Corners of the opening: of the ghosts, and rays of the star.",
        json_schema_extra={"keyable": False, "unit": "", "step": 0.05},
    )
    turn: float = number(12.0, -3600, 3600, label="turn", unit="°", step=0.5, tells="Turns star and ghosts.")
    ghosts: float = number(
        0.5, 0, 4, label="ghosts", step=0.01, tells="How strong the images along the line are."
    )
    spread: float = number(
        1.0, 0, 4, label="spread", unit="×", step=0.01, tells="How far along that line they reach."
    )
    tint: Colour = colour(1, 0.86, 0.66, label="tint", tells="Colour of glow and star.")


class Blur(Section):
    """The picture drawn out: along a line, towards a place, or around it."""

    length: float = number(
        0.0, 0, 2, label="length", unit="× h", step=0.002, tells="How far along a line, in heights."
    )
    angle: float = number(0.0, -3600, 3600, label="angle", unit="°", step=0.5, tells="0 runs across.")
    zoom: float = number(
        0.0, 0, 0.9, label="zoom", step=0.002, tells="Towards the place below: how much of the way."
    )
    spin: float = number(0.0, 0, 180, label="spin", unit="°", step=0.1, tells="Around the place below.")
    x: float = number(0.5, -2, 3, label="across", step=0.002, tells="The place, 0 to 1 from the left.")
    y: float = number(0.5, -2, 3, label="down", step=0.002, tells="0 to 1 from the top.")
    area: Area = Field(default_factory=Area, title="area of the blur")


class Veil(Section):
    """Light that has been scattered over the whole picture: shadows are lifted by what is bright."""

    amount: float = _amount("Which share of the picture's light lies everywhere.")


class Vignette(Section):
    """The picture gets darker towards its corners."""

    amount: float = _amount("How much darker the corners are.", 1.0, 0.005)
    reach: float = number(
        0.6, 0, 1.5, label="begins at", step=0.005, tells="From the middle (0) to the corners (1)."
    )
    roundness: float = number(
        1.0, 0, 1, label="roundness", step=0.01, tells="1 is a circle, 0 has the picture's shape."
    )


class Halation(Section):
    """Light that went through the film and came back: a warm rim around what is bright."""

    amount: float = _amount("How strong it is.")
    radius: float = _radius(0.012, "How far it reaches.")
    threshold: float = number(
        0.8, 0, 50, label="from", step=0.01, tells="Only what is brighter than this has one."
    )
    tint: Colour = colour(1, 0.22, 0.06, label="tint", tells="Colour of the rim.")


class Grain(Section):
    """The grain of film; every frame has its own."""

    amount: float = _amount("How strong it is.", 1.0, 0.002)
    size: float = number(
        1.6,
        0.5,
        12,
        label="size",
        unit="px",
        step=0.02,
        tells="How large it is, in pixels of a picture 1080 high.",
    )
    colour: float = number(
        0.35, 0, 1, label="colour", step=0.01, tells="0 is the same in all colours, 1 in each its own."
    )
    seed: int = Field(
        1,
        ge=0,
        le=100_000,
        title="seed",
        description="Another number is another film.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1},
    )


def _per_colour(low: float, high: float, at: float, label: str, tells: str) -> Any:
    return number(at, low, high, label=label, step=0.002, tells=tells)


class Grade(Section):
    """Tones and colours: slope, offset and power of each colour, then saturation (ASC CDL), after exposure
    and contrast."""

    contrast: float = number(
        1.0, 0.2, 3, label="contrast", step=0.005, tells="About middle grey, in stops; 1 leaves it."
    )
    warmth: float = number(0.0, -1, 1, label="warmth", step=0.005, tells="Below 0 cooler, above 0 warmer.")
    slope_r: float = _per_colour(0, 4, 1.0, "slope red", "Brightens red.")
    slope_g: float = _per_colour(0, 4, 1.0, "slope green", "Brightens green.")
    slope_b: float = _per_colour(0, 4, 1.0, "slope blue", "Brightens blue.")
    offset_r: float = _per_colour(-1, 1, 0.0, "offset red", "Lifts red everywhere.")
    offset_g: float = _per_colour(-1, 1, 0.0, "offset green", "Lifts green everywhere.")
    offset_b: float = _per_colour(-1, 1, 0.0, "offset blue", "Lifts blue everywhere.")
    power_r: float = _per_colour(0.1, 4, 1.0, "power red", "Bends red: above 1 darker in the middle.")
    power_g: float = _per_colour(0.1, 4, 1.0, "power green", "Bends green: above 1 darker in the middle.")
    power_b: float = _per_colour(0.1, 4, 1.0, "power blue", "Bends blue: above 1 darker in the middle.")
    saturation: float = number(1.0, 0, 3, label="saturation", step=0.005, tells="0 is grey.")
    vibrance: float = number(
        0.0,
        -1,
        2,
        label="vibrance",
        step=0.005,
        tells="Saturates what is pale, and leaves what is saturated.",
    )
    pivot: float = number(
        0.0,
        -6,
        6,
        label="pivot",
        unit="stops",
        step=0.02,
        tells="What contrast turns about, in stops from middle grey.",
    )
    dark_hue: float = number(
        210.0, -3600, 3600, label="hue of shadows", unit="°", step=0.5, tells="0 is red, 120 green, 240 blue."
    )
    dark_tint: float = number(
        0.0, 0, 1, label="tint of shadows", step=0.005, tells="How much of that hue shadows take."
    )
    light_hue: float = number(
        40.0, -3600, 3600, label="hue of lights", unit="°", step=0.5, tells="0 is red, 120 green, 240 blue."
    )
    light_tint: float = number(
        0.0, 0, 1, label="tint of lights", step=0.005, tells="How much of that hue what is bright takes."
    )
    reaches: Literal["everything", "titles", "what is behind"] = choice(
        "everything",
        label="reaches",
        tells="The whole picture, titles alone or what is behind them; curves and table go with it.",
    )
    area: Area = Field(default_factory=Area, title="area of the grade")


class Weave(Section):
    """Film that does not lie quite still in its gate, and a lens that breathes."""

    amount: float = number(
        0.0, 0, 0.1, label="amount", unit="× h", step=0.0001, tells="How far the picture wanders."
    )
    pace: float = number(
        4.0, 0.05, 30, label="pace", unit="/s", step=0.05, tells="How quickly it wanders.", keyable=False
    )
    turn: float = number(0.0, 0, 5, label="turn", unit="°", step=0.01, tells="How far it turns with that.")
    breathing: float = number(
        0.0, 0, 0.2, label="breathing", step=0.0005, tells="How much larger and smaller it becomes."
    )
    seed: int = Field(
        1,
        ge=0,
        le=100_000,
        title="seed",
        description="Another number wanders another way.",
        json_schema_extra={"keyable": False, "unit": "", "step": 1},
    )


class Letterbox(Section):
    """Bars that give the picture another shape."""

    aspect: float = number(
        0.0,
        0,
        4,
        label="shape",
        unit=": 1",
        step=0.005,
        tells="Width over height of what is left; 0 has no bars.",
    )


class Optics(Section):
    """All of it, in order: lens, exposure, film, grade; the view transform and the frame come last."""

    bend: Bend = Field(default_factory=Bend, title="bending")
    blur: Blur = Field(default_factory=Blur, title="blur")
    distortion: Distortion = Field(default_factory=Distortion, title="distortion")
    aberration: Aberration = Field(default_factory=Aberration, title="aberration")
    diffusion: Diffusion = Field(default_factory=Diffusion, title="diffusion")
    bloom: Bloom = Field(default_factory=Bloom, title="bloom")
    streak: Streak = Field(default_factory=Streak, title="streak")
    glints: Glints = Field(default_factory=Glints, title="glints")
    rays: Rays = Field(default_factory=Rays, title="rays")
    flare: Flare = Field(default_factory=Flare, title="flare")
    veil: Veil = Field(default_factory=Veil, title="veil")
    vignette: Vignette = Field(default_factory=Vignette, title="vignette")
    halation: Halation = Field(default_factory=Halation, title="halation")
    grain: Grain = Field(default_factory=Grain, title="grain")
    grade: Grade = Field(default_factory=Grade, title="grade")
    curves: Curves = Field(default_factory=Curves, title="curves")
    table: Table = Field(default_factory=Table, title="table")
    weave: Weave = Field(default_factory=Weave, title="weave")
    letterbox: Letterbox = Field(default_factory=Letterbox, title="letterbox")


# Effects that can be kept to an area.
LIMITED = tuple(
    name
    for name, field in Optics.model_fields.items()
    if isinstance(field.annotation, type) and "area" in getattr(field.annotation, "model_fields", {})
)
