"""A picture that something is missing from is not taken for one: orders and proof say what is missing."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np
import pytest

from dreizack.core.document import (
    Backdrop,
    Format,
    Mesh,
    Plate,
    Shot,
    Sound,
    Surroundings,
    lost_files,
    lost_sounds,
)
from dreizack.core.document.changes import Change, Changes
from dreizack.core.library import find, shelve
from dreizack.core.light import key_fill_rim
from dreizack.core.media import FilesLost, FramesFailed, Order, ShotReel, deliver
from dreizack.core.proof import checked
from dreizack.core.scene import frame_names
from dreizack.core.sequence import Bundle, Sequence, SequencePiece, SequenceReel, sequence_proofed
from tests.core.test_optics_media import Keeper

SIZE = (96, 54)
GONE = "picture-0123456789abcdefabcd.png"


@pytest.fixture
def pictured() -> Shot:
    return Shot(
        name="Ebb",
        format=Format(width=96, height=54, frames=4),
        backdrop=Backdrop(kind="picture", picture=GONE),
        things=key_fill_rim(),
    )


def test_what_is_missing_is_named_with_what_needs_it() -> None:
    shot = Shot(
        plate=Plate(clip="a.clip", solve="b.solve"),
        surroundings=Surroundings(source="picture", picture="c.panorama"),
        things={"buoy": Mesh(name="Buoy", file="d.mesh")},
        sounds={"bell": Sound(name="Bell", file="e.wav"), "gull": Sound(name="Gull", file="f.wav", on=False)},
    )
    found = {one.file: one for one in lost_files(shot)}
    assert set(found) == {"a.clip", "b.solve", "c.panorama", "d.mesh"}
    assert found["d.mesh"].thing == "buoy"
    assert found["d.mesh"].says == "d.mesh of Buoy is not in the library; bring it again"
    assert found["a.clip"].says.startswith("a.clip of the plate")
    assert [one.says.split(" is ")[0] for one in lost_sounds(shot.sounds)] == ["e.wav of Bell"]
    assert {one.kind for one in checked(shot)} >= {"files"}
    assert sum(one.kind == "files" and one.matters == "fault" for one in checked(shot)) == 5


def test_a_file_that_comes_at_a_frame_counts_too(pictured: Shot) -> None:
    later = Changes(keys=[Change(frame=2, value="picture-later.png")])
    shot = pictured.model_copy(update={"changes": {"/backdrop/picture": later}})
    assert {one.file for one in lost_files(shot)} == {GONE, "picture-later.png"}


def test_what_is_not_shown_is_not_missed(pictured: Shot) -> None:
    plain = pictured.model_copy(update={"backdrop": Backdrop(kind="colour", picture=GONE)})
    assert lost_files(plain) == []
    bent = Shot.model_validate({"optics": {"bend": {"file": GONE}}})
    assert lost_files(bent) == []
    still = Shot.model_validate({"optics": {"bend": {"file": GONE, "displaced": 0.1}}})
    keyed = Shot.model_validate(
        {
            "optics": {"bend": {"file": GONE}},
            "channels": {"/optics/bend/displaced": {"keys": [{"frame": 0, "value": 0.0}]}},
        }
    )
    assert [one.file for one in lost_files(still)] == [one.file for one in lost_files(keyed)] == [GONE]


def test_an_order_fails_with_the_sentence_and_renders_right_once_the_file_is_back(
    pictured: Shot, tmp_path: Path
) -> None:
    keeper, order, out = Keeper(), Order(0, 3, *SIZE, "draft"), tmp_path / "a.%05d.png"
    with pytest.raises(FramesFailed) as fault:
        deliver(pictured, order, out, keeper)
    assert f"{GONE} of the backdrop is not in the library; bring it again" in str(fault.value)
    assert not list(tmp_path.glob("*.png")), "a frame was written without its picture"
    without = frame_names(pictured, np.arange(4.0))

    shelf = tmp_path / "shelf"
    shelf.mkdir()
    shelve(shelf)
    cv2.imwrite(str(shelf / GONE), np.full((54, 96, 3), (40, 60, 220), np.uint8))
    assert find(GONE) is not None
    deliver(pictured, order, out, keeper)
    red = cv2.imread(str(tmp_path / "a.00000.png"))[..., ::-1]
    assert red[..., 0].mean() > 2 * red[..., 2].mean()
    assert not set(without) & set(frame_names(pictured, np.arange(4.0)))
    (shelf / GONE).unlink()


def test_other_shots_of_a_sequence_are_rendered(pictured: Shot, tmp_path: Path) -> None:
    line = [SequencePiece(shot="fine", frames=4), SequencePiece(shot="gone", frames=4)]
    fine = pictured.model_copy(update={"backdrop": Backdrop()})
    sequence = Sequence(line=line, width=96, height=54)
    bundle = Bundle(sequence, {"fine": fine, "gone": pictured})
    reel = SequenceReel(bundle, Order(0, 7, *SIZE, "draft"))
    assert [picture.number for picture in reel.pictures(lambda: False)] == [0, 1, 2, 3]
    assert list(reel.failing.why) == [4, 5, 6, 7] and GONE in reel.failing.why[4]
    found = sequence_proofed(bundle)
    assert [(one.frame, one.finding.kind) for one in found if one.finding.matters == "fault"] == [
        (4, "files")
    ]


def test_a_movie_is_not_made_without_a_sound_that_belongs_to_it(pictured: Shot) -> None:
    shot = pictured.model_copy(update={"backdrop": Backdrop(), "sounds": {"bell": Sound(file="gone.wav")}})
    with pytest.raises(FilesLost, match=r"gone\.wav of Sound"):
        ShotReel(shot, Order(0, 3, *SIZE, "draft")).sound()
    silent = shot.model_copy(update={"sounds": {"bell": Sound(file="gone.wav", on=False)}})
    assert ShotReel(silent, Order(0, 3, *SIZE, "draft")).sound() is None
