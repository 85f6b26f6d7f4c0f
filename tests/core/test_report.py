"""Findings as files that are sent along."""

from __future__ import annotations

import base64
import re

import cv2
import numpy as np
import pytest

from dreizack.core.proof import Place, report
from dreizack.core.proof.paper import report_pdf

_, JPEG = cv2.imencode(".jpg", np.full((90, 160, 3), 90, np.uint8))
PICTURE = "data:image/jpeg;base64," + base64.b64encode(JPEG.tobytes()).decode()


def place(says: str = "too long", picture: str = "", **more: str) -> Place:
    return Place("english", "Ebb", "EBB", 7, "reading", more.get("matters", "fault"), says, picture)


def letters_of(pdf: bytes) -> set[str]:
    """What can be copied out of a PDF, by the maps of its faces to Unicode (ISO 32000-2, 9.10.3)."""
    maps = re.findall(rb"begincmap(.*?)endcmap", pdf, re.S)
    codes = [code for one in maps for code in re.findall(rb"<[0-9A-Fa-f]+> <([0-9A-Fa-f]+)>", one)]
    return set("".join(bytes.fromhex(code.decode()).decode("utf-16-be", "ignore") for code in codes))


def test_it_is_a_pdf_with_the_letters_it_needs_and_always_the_same() -> None:
    made = report_pdf("Größe", [place("Ночь"), place("العبارة"), place("हिन्दी")])
    assert made.startswith(b"%PDF-") and made.rstrip().endswith(b"%%EOF")
    assert made == report_pdf("Größe", [place("Ночь"), place("العبارة"), place("हिन्दी")])
    assert set("ößНочь") <= letters_of(made)


def test_a_picture_lies_in_it_as_it_came() -> None:
    with_one, without = report_pdf("Ebb", [place(picture=PICTURE)]), report_pdf("Ebb", [place()])
    assert JPEG.tobytes() in with_one and b"/DCTDecode" in with_one and b"/DCTDecode" not in without


@pytest.mark.parametrize("picture", ["data:image/jpeg;base64,%%%", "https://example.org/a.jpg", "x"])
def test_what_is_no_picture_is_left_out(picture: str) -> None:
    assert b"/DCTDecode" not in report_pdf("Ebb", [place(picture=picture)])


def test_many_findings_take_pages_and_none_say_so() -> None:
    many = report_pdf("Ebb", [place(f"finding {k}") for k in range(200)])
    assert len(re.findall(rb"/Type /Page\b", many)) > 5
    assert len(re.findall(rb"/Type /Page\b", report_pdf("Ebb", []))) == 1
    assert "Nothing to look at" in report("Ebb", [])


def test_text_is_text() -> None:
    odd = place("<script>alert(1)</script> **bold** ~~\n\ttab", matters="note")
    assert "<script>" not in report("x", [odd]) and report_pdf("<b>x", [odd]).startswith(b"%PDF")
