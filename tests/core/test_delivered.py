"""Names by a rule, and delivered files read again and compared."""

from __future__ import annotations

import zipfile
from datetime import datetime
from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dreizack.core.document import Format, Shot
from dreizack.core.media import (
    FORMATS,
    NoPicture,
    Order,
    OrderError,
    ShotReel,
    check_rule,
    deliver_reel,
    delivered_picture,
    difference,
    facts_of,
    ruled_name,
)

WHEN = datetime(2026, 3, 4, 9, 5)
FACTS = facts_of("Slack/Water", "Main: title", "deutsch 9:16", (1080, 1920), "mp4", "good", (0, 11), WHEN)


def test_a_rule_names_files() -> None:
    assert ruled_name("{name}_{version}.{date}", FACTS) == "main-title_deutsch-9-16.20260304"
    assert ruled_name("{frames} {time} {size} {format} {quality}", FACTS) == "0-11-0905-1080x1920-mp4-good"


@given(st.text(max_size=60), st.text(max_size=60))
def test_names_are_names_on_every_system(name: str, version: str) -> None:
    facts = facts_of(name, name, version, (16, 16), "mp4", "good", (0, 1), WHEN)
    made = ruled_name("{production}/{name}\\{version}", facts)
    assert made and len(made) <= 160
    assert not set(made) & set('/\\:*?"<>|\0\n') and not made.startswith(".") and ".." not in made


@pytest.mark.parametrize(
    ("rule", "says"),
    [
        ("", "1 to 160"),
        ("x" * 161, "1 to 160"),
        ("{nam}", "no place for 'nam'"),
        ("{name", "brace"),
        ("a}", "brace"),
    ],
)
def test_rules_that_are_none_are_refused(rule: str, says: str) -> None:
    with pytest.raises(OrderError, match=says):
        check_rule(rule)


@pytest.fixture(scope="module")
def delivered(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """The same few frames in several formats: a backdrop that gets brighter."""
    folder = tmp_path_factory.mktemp("delivered")
    shot = Shot(format=Format(width=64, height=36, frames=3), things={})
    shot.backdrop.kind = "colour"
    shot.backdrop.colour.r, shot.backdrop.colour.g, shot.backdrop.colour.b = 0.2, 0.1, 0.3
    made = {}
    for name in ("mp4", "prores-422", "png", "exr"):
        written = FORMATS[name]
        path = folder / f"{name}{written.suffix if written.movie else '.zip'}"
        deliver_reel(ShotReel(shot, Order(0, 2, 64, 36, "draft")), path, written)
        made[name] = path
    return made


def test_frames_are_read_as_they_were_shown(delivered: dict[str, Path]) -> None:
    pictures = {name: delivered_picture(path, FORMATS[name], 1) for name, path in delivered.items()}
    for name, picture in pictures.items():
        assert picture.shape == (36, 64, 3), name
        # Light alone is that of titles, of which there are none.
        found = difference(pictures["png"], picture)
        assert found.most <= 6 if name != "exr" else not picture.any(), (name, found.most)
    with pytest.raises(NoPicture, match="no frame 9"):
        delivered_picture(delivered["png"], FORMATS["png"], 9)
    with pytest.raises(NoPicture, match="no frame 9"):
        delivered_picture(delivered["mp4"], FORMATS["mp4"], 9)


def test_what_is_no_delivery_is_a_sentence(tmp_path: Path) -> None:
    for name in ("mp4", "png"):
        path = tmp_path / f"x.{name}"
        path.write_bytes(b"nothing of the kind")
        with pytest.raises(NoPicture, match="cannot be read"):
            delivered_picture(path, FORMATS[name], 0)
    with zipfile.ZipFile(tmp_path / "a.zip", "w") as archive:
        archive.writestr("a.00000.png", b"no picture")
    with pytest.raises(NoPicture):
        delivered_picture(tmp_path / "a.zip", FORMATS["png"], 0)


def test_clear_titles_lie_over_black(tmp_path: Path) -> None:
    codes = np.zeros((4, 4, 4), np.uint16)
    codes[..., 2], codes[..., 3] = 65535, 32768
    _, data = cv2.imencode(".png", codes)
    with zipfile.ZipFile(tmp_path / "a.zip", "w") as archive:
        archive.writestr("a.00000.png", data.tobytes())
    picture = delivered_picture(tmp_path / "a.zip", FORMATS["png-alpha"], 0)
    assert picture[0, 0].tolist() == [128, 0, 0]


@given(st.integers(0, 255), st.integers(0, 255), st.floats(1, 64))
def test_differences_are_what_codes_are_apart(a: int, b: int, gain: float) -> None:
    found = difference(np.full((3, 5, 3), a, np.uint8), np.full((3, 5, 3), b, np.uint8), gain)
    assert found.most == abs(a - b) and found.mean == pytest.approx(abs(a - b))
    assert found.share == float(abs(a - b) > 1)
    assert int(found.picture.max()) == round(min(255.0, np.float32(abs(a - b)) * gain))
    larger = difference(np.full((3, 5, 3), a, np.uint8), np.full((6, 10, 3), a, np.uint8))
    assert larger.most == 0
