"""Picture passes to the finished picture, by a declared list of steps; view transforms; looking at single
channels."""

from .alone import Alone, alone
from .area import depth_share
from .cube_file import TableFileError, library_table, read_cube, write_cube
from .inspect import channel_shown, clipped_share, clipping, false_colour, shown_clipped
from .looks import LOOKS, PictureLook, looked
from .passes import Passes, PassName
from .pipeline import (
    STEPS,
    Finishing,
    Step,
    as_filmed,
    finished,
    grade_lattice,
    margin_of,
    needed_passes,
    scene_light,
)
from .scopes import histogram, targets, vectorscope, waveform
from .settings import Place, Values
from .steps.focus import FocusBlur
from .steps.plate_grain import PlateGrain
from .steps.tones import Tones, tone_lattices
from .transforms import LOW, SPAN, TRANSFORMS, cube
from .view import SHOULDER_START, display_values, to_display, view_curve

__all__ = [
    "LOOKS",
    "LOW",
    "SHOULDER_START",
    "SPAN",
    "STEPS",
    "TRANSFORMS",
    "Alone",
    "Finishing",
    "FocusBlur",
    "PassName",
    "Passes",
    "PictureLook",
    "Place",
    "PlateGrain",
    "Step",
    "TableFileError",
    "Tones",
    "Values",
    "alone",
    "as_filmed",
    "channel_shown",
    "clipped_share",
    "clipping",
    "cube",
    "depth_share",
    "display_values",
    "false_colour",
    "finished",
    "grade_lattice",
    "histogram",
    "library_table",
    "looked",
    "margin_of",
    "needed_passes",
    "read_cube",
    "scene_light",
    "shown_clipped",
    "targets",
    "to_display",
    "tone_lattices",
    "vectorscope",
    "view_curve",
    "waveform",
    "write_cube",
]
