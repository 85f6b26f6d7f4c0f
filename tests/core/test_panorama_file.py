"""Panoramas people bring: read as they are, refused with a sentence where they are broken."""

from __future__ import annotations

import io
from pathlib import Path

import cv2
import numpy as np
import OpenEXR
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from dreizack.core.light import load_panorama
from dreizack.core.light.panorama_file import read_panorama
from dreizack.core.sandbox import FileRefused


def light() -> np.ndarray:
    rng = np.random.default_rng(4)
    return (rng.random((32, 64, 3)) * 4).astype(np.float32)


def hdr(picture: np.ndarray) -> bytes:
    return cv2.imencode(".hdr", picture[..., ::-1])[1].tobytes()


def exr(picture: np.ndarray, folder: Path, names: str = "RGB") -> bytes:
    path = folder / "a.exr"
    channels = {name: np.ascontiguousarray(picture[..., i]) for i, name in enumerate(names)}
    with OpenEXR.File(
        {"compression": OpenEXR.ZIP_COMPRESSION, "type": OpenEXR.scanlineimage}, channels
    ) as file:
        file.write(str(path))
    return path.read_bytes()


def made(data: bytes) -> np.ndarray:
    return np.load(io.BytesIO(load_panorama(data)), allow_pickle=False).astype(np.float32)


def test_hdr_and_exr_keep_their_light(tmp_path: Path) -> None:
    np.testing.assert_allclose(made(hdr(light())), light(), rtol=0.02, atol=0.02)
    np.testing.assert_allclose(made(exr(light(), tmp_path)), light(), rtol=2e-3, atol=2e-3)


def test_ordinary_pictures_become_panoramas_in_linear_light() -> None:
    data = cv2.imencode(".png", np.full((90, 160, 3), 128, np.uint8))[1].tobytes()
    found = made(data)
    assert found.shape == (90, 180, 3)
    np.testing.assert_allclose(found, 0.2158, atol=1e-3)


def test_nan_and_infinity_become_nothing(tmp_path: Path) -> None:
    picture = light()
    picture[0, :, 0], picture[1, 0, 1], picture[2, 0, 2] = np.nan, np.inf, -3
    found = made(exr(picture, tmp_path))
    assert np.isfinite(found).all() and found.min() >= 0
    with pytest.raises(FileRefused, match="no number"):
        made(exr(np.full((32, 64, 3), np.nan, np.float32), tmp_path))


@pytest.mark.parametrize(
    ("spoil", "sentence"),
    [
        (lambda d: d[: len(d) // 3], "damaged|cut short"),
        (lambda d: b"hello", "no HDR, EXR"),
        (lambda d: d.replace(b"-Y 32 +X 64", b"-Y 99999 +X 99999"), "pixels"),
        (lambda d: b"", "no HDR, EXR"),
    ],
)
def test_broken_files_get_a_sentence(spoil: object, sentence: str) -> None:
    with pytest.raises(FileRefused, match=sentence):
        load_panorama(spoil(hdr(light())))  # type: ignore[operator]


def test_a_panorama_without_colour_is_refused(tmp_path: Path) -> None:
    with pytest.raises(FileRefused, match="channels R, G and B"):
        load_panorama(exr(light(), tmp_path, "XYZ"))


@given(st.integers(0, 400), st.binary(min_size=1, max_size=12))
@settings(max_examples=60, deadline=None)
def test_spoilt_bytes_are_read_or_refused(at: int, noise: bytes) -> None:
    data = bytearray(hdr(light()))
    data[at : at + len(noise)] = noise
    try:
        found = np.load(io.BytesIO(read_panorama(bytes(data))), allow_pickle=False)
    except (ValueError, cv2.error):
        return
    assert np.isfinite(found).all()
