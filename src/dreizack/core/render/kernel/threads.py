"""How many cores rendering takes."""

from __future__ import annotations

import os

import cv2

from .engine import arrays, engine


def take_threads(count: int) -> None:
    """Trace, denoise and finish with so many threads (1 and up) from now on; called before anything is
    denoised."""
    engine()
    arrays().set_thread_count(count)
    cv2.setNumThreads(count)
    # The denoiser reads it when it is set up; several processes on one core each do not pin it to the same.
    os.environ["OIDN_NUM_THREADS"] = str(count)
    os.environ["OIDN_SET_AFFINITY"] = "0"
