"""What a solve is worth, in words and figures."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from .solve import GOOD, USABLE, Solve

# Frames whose residual is so many times the middle one are weak; so are those that few points bear.
WEAK, FEW = 2.0, 12


@dataclass(frozen=True)
class Report:
    """``verdict`` is good, usable or poor; ``words`` say what was found and what would help. Residuals are in
    pixels of the pictures that were solved; ``slide`` is about how far a placed thing slides. ``weak`` are
    stretches of frames, both ends included."""

    verdict: str
    words: tuple[str, ...]
    rms: float
    slide: float
    points: int
    weak: tuple[tuple[int, int], ...]


def report(solve: Solve) -> Report:
    """The report on a solve."""
    scale = solve.bundle.size[0] / 960
    rms, count = solve.rms, np.bincount(solve.tracks.frame, minlength=solve.frames)
    # Where many points agree, a camera is known better than each of them; what is left is what sways
    # together.
    middle = float(np.nanmedian(solve.residual)) if np.isfinite(solve.residual).any() else float("nan")
    sway = np.nanstd(solve.residual) if np.isfinite(solve.residual).any() else 0.0
    slide = float(rms * np.sqrt(6 / max(float(np.median(count)), 6)) + 0.3 * sway)
    bad = ~np.isfinite(solve.residual) | ((count < FEW) & (solve.by == "points"))
    bad |= np.nan_to_num(solve.residual, nan=np.inf) > max(WEAK * middle, 0.3 * scale)
    weak = _stretches(bad)
    verdict = (
        "good"
        if rms < GOOD * scale and not bad.mean() > 0.1
        else "usable"
        if rms < USABLE * scale
        else "poor"
    )
    return Report(
        verdict, tuple(_words(solve, verdict, rms, weak)), rms, slide, len(solve.bundle.points), weak
    )


def _stretches(bad: np.ndarray) -> tuple[tuple[int, int], ...]:
    edges = np.flatnonzero(np.diff(np.concatenate([[0], bad.astype(int), [0]])))
    return tuple((int(a), int(b) - 1) for a, b in zip(edges[::2], edges[1::2], strict=True))


def _words(solve: Solve, verdict: str, rms: float, weak: tuple[tuple[int, int], ...]) -> list[str]:
    kinds = {
        "moving": "The camera moves through the room.",
        "turning": "The camera only turns: nothing tells how far away things are. Pick its horizon, then "
        "two places on the ground with a known distance.",
        "still": "The camera stands still: nothing tells its lens. Give a focal length, or match by lines.",
    }
    words = [kinds[solve.kind]]
    if solve.by == "rectangle":
        words = ["The camera stands, as a rectangle on the ground tells."]
    if solve.by == "edges":
        words = ["The camera stands, as edges tell; two points with a known distance tell how high."]
    if solve.kind != "still" or solve.by != "points":
        width = solve.bundle.size[0]
        words.append(
            f"Focal length {36 * solve.bundle.focal / width:.1f} mm on a sensor 36 mm wide; the lens bends "
            f"by "
            f"{100 * solve.bundle.k1 * (width / 2 / solve.bundle.focal) ** 2:+.2f} % at the sides."
        )
    if solve.bundle.readout:
        words.append(
            f"Rows are read one after the other, over {100 * solve.bundle.readout:.0f} % of a frame; words "
            f"stand "
            "as they are at its middle row."
        )
    words.append(f"Points miss by {rms:.2f} pixels (root mean square over all).")
    if weak:
        named = ", ".join(f"{a}–{b}" if a != b else f"{a}" for a, b in weak[:4])
        words.append(
            f"Weak frames: {named}. Few points are seen there, or they move by themselves: mask what moves, "
            f"or "
            "leave these frames out."
        )
    if verdict == "poor":
        words.append("A longer piece, a known focal length, or a mask over what moves by itself would help.")
    return words
