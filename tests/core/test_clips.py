"""Videos become clips whose every frame is at hand; what is no video is refused in a sentence."""

from __future__ import annotations

import io
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.clips import AFTER, bring_clip, clip_facts, clip_frame, shown_frames
from dreizack.core.document import Backdrop, Camera, Finish, Format, Sheet, Shot, Surroundings, Vector
from dreizack.core.document.finish import SurfacePicture
from dreizack.core.library import shelve
from dreizack.core.render import Quality, Stage, backdrop_picture, trace
from dreizack.core.sandbox import FileRefused
from dreizack.core.scene import BodyStore, exposed, frame_names

FRAMES = 20


def movie(
    codec: str = "libx264", frames: int = FRAMES, size: tuple[int, int] = (320, 180), container: str = "mp4"
) -> bytes:
    """Frame k is grey of the code 40 + 10 k, with a mark that travels."""
    held = io.BytesIO()
    with av.open(held, "w", format=container) as out:
        stream = out.add_stream(codec, rate=Fraction(25))
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        for k in range(frames):
            picture = np.full((size[1], size[0], 3), 40 + 10 * k, np.uint8)
            for packet in stream.encode(av.VideoFrame.from_ndarray(picture, format="rgb24")):
                out.mux(packet)
        for packet in stream.encode(None):
            out.mux(packet)
    return held.getvalue()


@pytest.fixture(scope="module")
def clip(tmp_path_factory: pytest.TempPathFactory) -> str:
    folder: Path = tmp_path_factory.mktemp("shelf")
    shelve(folder)
    return bring_clip(movie(), folder)


def code(linear: np.ndarray) -> float:
    value = float(np.median(linear))
    return 255 * (1.055 * value ** (1 / 2.4) - 0.055)


def test_every_frame_comes_back_in_any_order(clip: str) -> None:
    facts = clip_facts(clip)
    assert facts is not None and (facts.width, facts.height, facts.rate, facts.frames) == (
        320,
        180,
        25,
        FRAMES,
    )
    for k in (13, 0, 19, 5, 6, 7, 18):
        found = clip_frame(clip, k)
        assert found is not None and found.shape == (180, 320, 3)
        assert code(found) == pytest.approx(40 + 10 * k, abs=3)
    assert code(clip_frame(clip, 99)) == pytest.approx(230, abs=3)  # type: ignore[arg-type]
    assert clip_frame("nothing.clip", 0) is None


@given(st.integers(-50, 50), st.integers(1, 12), st.sampled_from(AFTER))
def test_frames_shown_are_frames_there_are(start: int, frames: int, after: str) -> None:
    shown = shown_frames(np.arange(start, start + 40) / 10, 1.0, 0.0, after, frames, 10.0)
    assert shown.min() >= 0 and shown.max() < frames
    if after != "again":
        assert np.abs(np.diff(shown)).max(initial=0) <= 1
    else:
        assert set(np.diff(shown)) <= {1, 1 - frames}


@pytest.mark.parametrize(
    ("data", "says"),
    [(b"", "video"), (b"no movie at all" * 50, "damaged"), (movie()[:900], "video")],
)
def test_what_is_no_video_is_refused_in_a_sentence(data: bytes, says: str, tmp_path: Path) -> None:
    with pytest.raises(FileRefused, match=says):
        bring_clip(data, tmp_path)
    assert list(tmp_path.iterdir()) == []


def test_other_kinds_and_sound_without_picture(tmp_path: Path) -> None:
    assert (tmp_path / bring_clip(movie("mpeg4", 4, container="matroska"), tmp_path)).stat().st_size > 500
    held = io.BytesIO()
    with av.open(held, "w", format="wav") as out:
        stream = out.add_stream("pcm_s16le", rate=8000)
        frame = av.AudioFrame.from_ndarray(np.zeros((1, 800), np.int16), format="s16", layout="mono")
        frame.sample_rate = 8000
        for packet in [*stream.encode(frame), *stream.encode(None)]:
            out.mux(packet)
    with pytest.raises(FileRefused, match="no picture"):
        bring_clip(held.getvalue(), tmp_path)


def glowing(clip: str, **picture: object) -> Shot:
    lit = Finish(emission=1, picture=SurfacePicture(fill="video", file=clip, channel="emission", **picture))  # type: ignore[arg-type]
    return Shot(
        format=Format(width=160, height=90, frames=20),
        things={"screen": Sheet(width=8, height=4.5, finish=lit)},
        surroundings=Surroundings(strength=-16),
        camera=Camera(position=Vector(z=4), aim=Vector(), focal_length=50),
    )


def test_a_video_on_a_surface_plays(clip: str) -> None:
    stage, shot = Stage(BodyStore()), glowing(clip, speed=2.0)
    for frame, shown in ((0, 0), (4, 8), (7, 14), (13, 6)):
        stage.show(exposed(shot, float(frame)))
        assert code(trace(stage, 160, 90, Quality(4, "fast")).rgba[40:50, 70:90, :3]) == pytest.approx(
            40 + 10 * shown, abs=6
        )
    assert len(set(frame_names(shot, np.arange(20.0)))) == 20


def test_surroundings_and_backdrop_play_too(clip: str) -> None:
    shot = Shot(
        format=Format(frames=20),
        surroundings=Surroundings(source="video", video=clip),
        backdrop=Backdrop(kind="video", video=clip, offset=0.2),
    )
    early, late = exposed(shot, 0.0), exposed(shot, 10.0)
    assert early.around.frame == 0 and late.around.frame == 10
    assert code(backdrop_picture(early, 64, 36)) == pytest.approx(90, abs=3)
    assert code(backdrop_picture(late, 64, 36)) == pytest.approx(190, abs=3)
    assert early.traced_key != late.traced_key
