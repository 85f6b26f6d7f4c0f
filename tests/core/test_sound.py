"""Sound: brought in many kinds, listened to, followed, mixed and delivered on its sample."""

from __future__ import annotations

import io
import wave
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest

from dreizack.core.document import Channel, Coupling, Format, Key, Shot, Sound, Title
from dreizack.core.library import keep, shelve
from dreizack.core.media.formats.movies import MovieWriter
from dreizack.core.media.sound import shot_sound
from dreizack.core.motion import Motion
from dreizack.core.sandbox import FileRefused
from dreizack.core.sound import RATE, bring_sound, heard, sound_samples
from dreizack.core.sound.listening import listened
from dreizack.core.sound.mixing import KNEE, limited


def wav(samples: np.ndarray) -> bytes:
    out = io.BytesIO()
    with wave.open(out, "wb") as sound:
        sound.setnchannels(samples.shape[1])
        sound.setsampwidth(2)
        sound.setframerate(RATE)
        sound.writeframes((np.clip(samples, -1, 1) * 32767).astype("<i2").tobytes())
    return out.getvalue()


def clicks(times: np.ndarray, seconds: float, seed: int = 1) -> np.ndarray:
    """Short decaying bursts at times in seconds, over faint noise."""
    chance = np.random.default_rng(seed)
    whole = chance.normal(0, 0.003, round(seconds * RATE))
    burst = chance.normal(0, 1, 2400) * np.exp(-np.arange(2400) / 500) * 0.6
    for time in times:
        at = round(time * RATE)
        end = min(len(whole), at + len(burst))
        whole[at:end] += burst[: end - at]
    return whole


@pytest.fixture
def shelf(tmp_path: Path) -> Path:
    shelve(tmp_path)
    return tmp_path


@pytest.mark.parametrize(
    ("container", "codec"),
    [("wav", "pcm_s24le"), ("flac", "flac"), ("mp3", "libmp3lame"), ("mp4", "aac"), ("ogg", "libopus")],
)
def test_every_kind_of_sound_is_read(shelf: Path, container: str, codec: str) -> None:
    rate = 48_000 if codec == "libopus" else 44_100
    tone = (0.5 * np.sin(2 * np.pi * 440 * np.arange(2 * rate) / rate)).astype(np.float32)
    path = shelf / f"in.{container}"
    with av.open(str(path), "w", format=container) as out:
        stream = out.add_stream(codec, rate=rate, layout="stereo")
        wanted = stream.codec_context.format.name
        resampler = av.AudioResampler(
            format=wanted, layout="stereo", rate=rate, frame_size=960 if codec == "libopus" else 1024
        )
        frame = av.AudioFrame.from_ndarray(np.stack([tone, tone]), format="fltp", layout="stereo")
        frame.sample_rate, frame.pts = rate, 0
        for part in [*resampler.resample(frame), *resampler.resample(None)]:
            out.mux(stream.encode(part))
        out.mux(stream.encode(None))
    samples = sound_samples(bring_sound(path, shelf))
    assert samples is not None and samples.shape[1] == 2
    assert abs(len(samples) / RATE - 2) < 0.08
    spectrum = np.abs(np.fft.rfft(samples[RATE // 2 : RATE + RATE // 2, 0]))
    assert abs(int(spectrum.argmax()) - 440) <= 1
    assert float(np.abs(samples).max()) == pytest.approx(0.5, abs=0.06)


@pytest.mark.parametrize("data", [b"", b"RIFF\x00\x00", b"ID3" + bytes(400), wav(np.zeros((0, 1)))])
def test_broken_sounds_are_refused_in_words(shelf: Path, data: bytes) -> None:
    with pytest.raises(FileRefused, match="sound"):
        bring_sound(data, shelf)


def matched(found: np.ndarray, wanted: np.ndarray, within: float = 0.07) -> float:
    """F-measure of times that lie near each other."""
    hits = sum(bool(len(found)) and np.abs(found - time).min() <= within for time in wanted)
    true = sum(np.abs(wanted - time).min() <= within for time in found)
    return 2 * min(hits, true) / max(1, len(found) + len(wanted))


@pytest.mark.parametrize("tempo", [72, 96, 120, 144, 168])
def test_beats_are_found(tempo: int) -> None:
    beats = np.arange(0.4, 19.5, 60 / tempo)
    assert matched(listened(clicks(beats, 20, tempo)).beats, beats) >= 0.9


def test_beats_hold_on_over_gaps_and_between_others() -> None:
    beats = np.arange(0.5, 19.5, 0.5)
    chance = np.random.default_rng(3)
    played = np.delete(beats, [5, 6, 17, 30])
    off = chance.choice(beats[:-1], 8, replace=False) + 0.25
    assert matched(listened(clicks(np.sort(np.concatenate([played, off])), 20)).beats, beats) >= 0.9


def test_onsets_are_where_something_begins_and_silence_has_none() -> None:
    times = np.array([0.5, 1.1, 1.35, 2.8, 4.0])
    assert matched(listened(clicks(times, 5)).onsets, times, 0.03) >= 0.9
    silent = listened(np.zeros(RATE * 3))
    assert len(silent.onsets) == len(silent.beats) == 0 and silent.level.max() == 0


def test_bands_tell_low_from_high() -> None:
    time = np.arange(RATE * 2) / RATE
    for hertz, band in ((80, "low"), (700, "middle"), (6000, "high")):
        found = listened(np.sin(2 * np.pi * hertz * time))
        values = {name: float(getattr(found, name)[50:150].mean()) for name in ("low", "middle", "high")}
        assert max(values, key=values.__getitem__) == band and values[band] > 0.9
        assert found.level[50:150].mean() == pytest.approx(1, abs=0.02)


def shot_with(file: str, **sound: object) -> Shot:
    return Shot.model_validate(
        {
            "format": Format(frames=100),
            "things": {"title": Title()},
            "sounds": {"bell": Sound(file=file, **sound)},  # type: ignore[arg-type]
            "couplings": {
                "/things/title/place/scale": Coupling(source="/sounds/bell/heard/level", gain=2, offset=1)
            },
        }
    )


def test_values_follow_what_is_heard(shelf: Path) -> None:
    loud = np.zeros((RATE * 2, 1))
    loud[RATE // 2 : RATE] = np.sin(2 * np.pi * 500 * np.arange(RATE // 2) / RATE)[:, None]
    shot = shot_with(keep(shelf, wav(loud), "wav", "sound"), start=25)
    scale = Motion(shot, np.arange(100.0)).value("/things/title/place/scale")
    # Half a second into a sound that begins at frame 25, at 25 frames a second, and for half a second.
    np.testing.assert_allclose(scale[[0, 25, 36]], 1, atol=1e-6)
    np.testing.assert_allclose(scale[39:48], 3, atol=0.05)
    np.testing.assert_allclose(scale[51:], 1, atol=1e-6)


def test_sounds_stand_on_their_sample_with_gain_and_fades(shelf: Path) -> None:
    pulse = np.zeros((RATE, 1))
    pulse[1000] = 0.5
    shot = shot_with(keep(shelf, wav(pulse), "wav", "sound"), start=10.5, skip=0.01, gain=-6.0206)
    mix = shot_sound(shot, 0, 99)
    assert mix is not None and len(mix) == 4 * RATE
    at = round(10.5 / 25 * RATE) + 1000 - 480
    assert int(np.abs(mix[:, 0]).argmax()) == at and mix[at, 0] == pytest.approx(0.25, abs=1e-3)
    part = shot_sound(shot, 5, 50)
    assert part is not None and int(np.abs(part[:, 1]).argmax()) == at - round(5 / 25 * RATE)
    shot.channels = {"/sounds/bell/gain": Channel(keys=[Key(frame=0, value=-60)])}
    assert shot_sound(shot, 0, 99).max() == 0  # type: ignore[union-attr]
    shot.sounds["bell"].on = False
    assert shot_sound(shot, 0, 99) is None


def test_loud_mixes_are_bent_down_and_quiet_ones_left_alone() -> None:
    loud = limited(np.linspace(-3, 3, 1001))
    assert np.abs(loud).max() <= 1 and (np.diff(loud) > 0).all()
    quiet = np.linspace(-KNEE, KNEE, 99)
    np.testing.assert_allclose(limited(quiet), quiet)


def test_a_delivered_movie_has_its_sound_on_the_sample(tmp_path: Path) -> None:
    """A click in the middle of noise: where it is decoded again is where it was put, within one sample."""
    chance = np.random.default_rng(4)
    sound = chance.normal(0, 0.02, (2 * RATE, 2)).astype(np.float32)
    sound[30_011] += 0.9
    rate = Fraction(24_000, 1001)
    frames = 48
    with MovieWriter(tmp_path / "a.mp4", 64, 64, rate, sound=sound[: round(frames / rate * RATE)]) as movie:
        for _ in range(frames):
            movie.write(np.zeros((64, 64, 3), np.uint8))
    with av.open(str(tmp_path / "a.mp4")) as movie:
        stream = movie.streams.audio[0]
        assert stream.rate == RATE and stream.codec_context.name == "aac"
        heard_again = np.zeros((4 * RATE, 2))
        for frame in movie.decode(stream):
            at = round(frame.pts * frame.time_base * RATE)
            block = frame.to_ndarray().T
            heard_again[max(0, at) : at + len(block)] = block[max(0, -at) :]
    assert abs(int(np.abs(heard_again[:, 0]).argmax()) - 30_011) <= 1
    shift = np.correlate(heard_again[20_000:40_000, 0], sound[20_010:39_990, 0], "valid")
    assert abs(int(shift.argmax()) - 10) <= 1


def test_what_is_kept_is_listened_to_once(shelf: Path) -> None:
    file = keep(shelf, wav(clicks(np.arange(0.3, 4, 0.5), 5)[:, None]), "wav", "sound")
    assert heard(file) is heard(file) and heard("sound-nothing.wav") is None
