"""Frame state to picture passes: path tracing with Mitsuba, denoising with Open Image Denoise.

One scene and one renderer for every quality; qualities differ in samples and size, never in content.
"""

from .denoise import denoise
from .quality import QUALITIES, Quality
from .stage import Stage
from .stopping import Stopped
from .tracing import Progressive, Traced, trace

__all__ = ["QUALITIES", "Progressive", "Quality", "Stage", "Stopped", "Traced", "denoise", "trace"]
