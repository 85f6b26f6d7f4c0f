"""What is heard in a sequence: the sounds of its shots, its own, and how loud all of it is."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from ..media.sound import SILENT, shot_sound
from ..sound import Placed, limited, loudness, mixed, sound_facts
from ..sound.rate import RATE
from .bundle import Bundle
from .document import HeardSound, Sequence, SequencePiece

Floats = NDArray[np.float32]


def sequence_sound(bundle: Bundle, first: int, last: int) -> Floats | None:
    """Samples (n, 2) of the frames ``first`` to ``last`` of a sequence; None where nothing is heard.

    Where pieces overlap their sounds cross with equal power. The loudness that is asked for is that of the
    whole, whatever part is ordered.
    """
    sequence = bundle.sequence
    rate = sequence.rate.per_second
    whole = np.zeros((round(sequence.total / rate * RATE), 2), np.float32)
    heard = False
    for piece, at, fades in _placed(sequence):
        samples = _of_piece(bundle, piece)
        if samples is None:
            continue
        heard = True
        begin = round(at / rate * RATE)
        end = min(len(whole), begin + len(samples))
        gain = _cross(end - begin, piece.frames, fades) * _factor(np.array(piece.gain))
        whole[begin:end] += samples[: end - begin] * gain[:, None]
    own = [sound for sound in sequence.sounds.values() if sound.on and sound_facts(sound.file) is not None]
    if own:
        heard = True
        whole += mixed([_laid(sound, sequence) for sound in own], 0.0, sequence.total / rate)[: len(whole)]
    if not heard:
        return None
    if sequence.loudness < 0:
        is_now = loudness(whole)
        if np.isfinite(is_now):
            whole *= np.float32(10 ** ((sequence.loudness - is_now) / 20))
    begin, end = round(first / rate * RATE), round((last + 1) / rate * RATE)
    return limited(whole[begin:end].astype(np.float64)).astype(np.float32)


def _placed(sequence: Sequence) -> list[tuple[SequencePiece, int, tuple[int, int]]]:
    """Pieces that may be heard, where each begins, and the frames it takes to come and to go."""
    found = []
    overlaps = [piece.transition.overlap for piece in sequence.line] + [0]
    for index, (piece, at) in enumerate(zip(sequence.line, sequence.starts, strict=True)):
        found.append((piece, at, (overlaps[index] if index else 0, overlaps[index + 1])))
    for lane in sequence.lanes:
        if lane.on:
            found += [(laid.piece, laid.at, (laid.fade_in, laid.fade_out)) for laid in lane.pieces]
    # Sound that runs at another speed is left out rather than changed in pitch.
    return [one for one in found if one[0].kind == "shot" and one[0].heard and one[0].as_filmed]


def _of_piece(bundle: Bundle, piece: SequencePiece) -> Floats | None:
    shot = bundle.shots[piece.shot]
    first = round(piece.skip)
    last = min(first + piece.frames, shot.format.frames) - 1
    # A shot of another rate is shown frame by frame: its sound would not fit.
    same = shot.format.rate.num * bundle.sequence.rate.den == bundle.sequence.rate.num * shot.format.rate.den
    return shot_sound(shot, first, last) if last >= first and same else None


def _cross(count: int, frames: int, fades: tuple[int, int]) -> NDArray[np.float64]:
    """Gains (count,) that come up and go with equal power."""
    at = np.arange(count) / max(count, 1) * frames
    gain = np.ones(count)
    if fades[0]:
        gain *= np.sin(np.pi / 2 * np.clip(at / fades[0], 0, 1))
    if fades[1]:
        gain *= np.sin(np.pi / 2 * np.clip((frames - at) / fades[1], 0, 1))
    return gain


def _factor(decibels: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.where(decibels <= SILENT, 0.0, 10 ** (decibels / 20))


def _laid(sound: HeardSound, sequence: Sequence) -> Placed:
    """A sound of the sequence itself, with its levels and fades."""
    rate, total = sequence.rate.per_second, sequence.total
    frames = np.linspace(0, total, 4 * total + 1)
    gain = np.full(len(frames), float(_factor(np.array(sound.gain))))
    if sound.levels:
        at, levels = np.array([[level.frame, level.gain] for level in sound.levels]).T
        gain *= _factor(np.interp(frames - sound.start, at, levels))
    facts = sound_facts(sound.file)
    assert facts is not None
    end = min(sound.start + (facts.seconds - sound.skip) * rate, float(total))
    if sound.fade_in > 0:
        gain *= np.clip((frames - sound.start) / sound.fade_in, 0, 1)
    if sound.fade_out > 0:
        gain *= np.clip((end - frames) / sound.fade_out, 0, 1)
    return Placed(sound.file, sound.start / rate, sound.skip, gain)
