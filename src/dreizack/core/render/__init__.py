"""Frame state to picture passes: path tracing with Mitsuba, denoising with Open Image Denoise.

One scene and one renderer for every quality; qualities differ in samples and size, never in content.
"""

from .asking import Answer, Mirrored, Share, ask
from .kernel.cancellation import Stopped
from .kernel.memory import give_back
from .kernel.threads import take_threads
from .sampling.area_mattes import area_mattes
from .sampling.data_passes import DataPasses, data_passes
from .sampling.denoise import denoise
from .sampling.focus_circles import focus_blur
from .sampling.launch import CHANNELS, channel_picture
from .sampling.quality import QUALITIES, Quality
from .sampling.raw_passes import RawPasses
from .sampling.tracing import Progressive, Traced, trace, trace_passes
from .staging.backdrop import backdrop_picture
from .staging.pictures import picture_light
from .staging.plate_touches import cover_matte
from .staging.stage import Stage
from .transport import letter_texture, reveal_texture, roughness_filter  # noqa: F401 (makes them known to the renderer)
from .transport.lens import Window

__all__ = [
    "CHANNELS",
    "QUALITIES",
    "Answer",
    "DataPasses",
    "Mirrored",
    "Progressive",
    "Quality",
    "RawPasses",
    "Share",
    "Stage",
    "Stopped",
    "Traced",
    "Window",
    "area_mattes",
    "ask",
    "backdrop_picture",
    "channel_picture",
    "cover_matte",
    "data_passes",
    "denoise",
    "focus_blur",
    "give_back",
    "picture_light",
    "take_threads",
    "trace",
    "trace_passes",
]
