"""Frame state to picture passes: path tracing with Mitsuba, denoising with Open Image Denoise.

One scene and one renderer for every quality; qualities differ in samples and size, never in content.
"""

from . import widened  # noqa: F401 (makes it known to the renderer)
from .asking import Answer, Mirrored, Share, ask
from .backdrop import backdrop_picture
from .denoise import denoise
from .gathered import Gathered
from .lens import Window
from .pictures import CHANNELS, channel_picture
from .quality import QUALITIES, Quality
from .stage import Stage
from .stopping import Stopped
from .tracing import Progressive, Traced, gather, trace

__all__ = [
    "CHANNELS", "QUALITIES", "Answer", "Gathered", "Mirrored", "Progressive", "Quality", "Share", "Stage", "Stopped", "Traced", "Window",
    "ask", "backdrop_picture", "channel_picture", "denoise", "gather", "trace",
]
