"""Foreign sound files become plain samples: WAV, 48 kHz, 16 bits, one or two channels."""

from __future__ import annotations

import io
import wave
from pathlib import Path

from ..library import adopt
from ..sandbox import FileRefused, Unreadable, sandboxed_file
from .rate import RATE

MAX_BYTES = 1_000_000_000
# Longest sound that is kept, in seconds.
LONGEST = 15 * 60
SECONDS = 90.0


def bring_sound(source: bytes | Path, folder: Path) -> str:
    """Read a sound (WAV, FLAC, MP3, AAC, Ogg, or that of a video) in a sandbox and put it on a shelf; its
    name.

    FileRefused for what has no sound in it, is too large or damaged.
    """
    if (len(source) if isinstance(source, bytes) else source.stat().st_size) > MAX_BYTES:
        raise FileRefused(f"the sound is larger than {MAX_BYTES // 1_000_000} MB; cut it")
    made = sandboxed_file(
        "dreizack.core.sound.taking:take",
        source,
        folder,
        what="sound",
        seconds=SECONDS,
        megabytes=2500,
        most=RATE * 4 * (LONGEST + 5),
    )
    return adopt(folder, made, "wav", "sound")


def take(path: str) -> bytes:
    """In the sandbox: all samples at one rate, as a WAV file."""
    import av

    out = io.BytesIO()
    try:
        with av.open(path, "r") as movie:
            if not movie.streams.audio:
                raise Unreadable("there is no sound in this file")
            stream = movie.streams.audio[0]
            channels = 1 if (stream.codec_context.channels or 2) == 1 else 2
            with wave.open(out, "wb") as written:
                written.setnchannels(channels)
                written.setsampwidth(2)
                written.setframerate(RATE)
                resampler = av.AudioResampler(
                    format="s16", layout="mono" if channels == 1 else "stereo", rate=RATE
                )
                left = RATE * LONGEST
                for frame in movie.decode(stream):
                    for part in resampler.resample(frame):
                        left = _write(written, part, left)
                    if left <= 0:
                        raise Unreadable(f"the sound is longer than {LONGEST // 60} minutes; cut it")
                for part in resampler.resample(None):
                    left = _write(written, part, left)
                if left == RATE * LONGEST:
                    raise Unreadable("there is not a single sample in this sound; it may be cut short")
    except av.FFmpegError as why:
        raise Unreadable("the sound is damaged or of an unknown kind; save it as WAV or FLAC") from why
    return out.getvalue()


def _write(written: wave.Wave_write, part: object, left: int) -> int:
    samples = part.to_ndarray()  # type: ignore[attr-defined]
    written.writeframes(samples.tobytes())
    return left - part.samples  # type: ignore[attr-defined, no-any-return]
