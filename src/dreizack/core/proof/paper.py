"""Findings on paper: the page that can be sent along, as PDF."""

from __future__ import annotations

import base64
import binascii
import io
from datetime import UTC, datetime

from fpdf import FPDF
from fpdf.fonts import FontFace

from ..lettering.typefaces import SHIPPED
from .report import Place, counted

# Widths of the columns, of each other.
COLUMNS = {"": 9, "version": 13, "shot": 17, "thing": 15, "frame": 8, "seen": 20, "what": 52}
FAULT, FAINT, LINE = (179, 38, 30), (96, 96, 96), (200, 200, 200)
# Languages that the first typeface has no letters of.
FURTHER = ("NotoSans_700Bold.ttf", "Amiri_700Bold.ttf", "Baloo2_800ExtraBold.ttf")
PICTURE = "data:image/jpeg;base64,"


def report_pdf(name: str, places: list[Place]) -> bytes:
    """Findings as a PDF of A4 pages, lying; the same findings make the same bytes."""
    paper = FPDF(orientation="landscape", format="A4")
    paper.set_creation_date(datetime(2000, 1, 1, tzinfo=UTC))
    paper.set_title(f"Proof of {name}")
    paper.set_auto_page_break(True, margin=14)
    paper.add_font("text", fname=SHIPPED / "Recursive_Variable.ttf", variations={"wght": 400.0})
    paper.add_font("text", style="B", fname=SHIPPED / "Recursive_Variable.ttf", variations={"wght": 700.0})
    for face in FURTHER:
        paper.add_font(face, fname=SHIPPED / face)
    paper.set_fallback_fonts(list(FURTHER), exact_match=False)
    paper.set_text_shaping(True)
    paper.add_page()
    paper.set_font("text", "B", 18)
    paper.multi_cell(0, 9, f"Proof of {name}", new_x="LMARGIN", new_y="NEXT")
    paper.set_font("text", size=10)
    paper.multi_cell(0, 7, counted(places), new_x="LMARGIN", new_y="NEXT")
    paper.ln(2)
    if places:
        _table(paper, places)
    return bytes(paper.output())


def _table(paper: FPDF, places: list[Place]) -> None:
    paper.set_draw_color(*LINE)
    paper.set_font("text", size=9)
    head = FontFace(emphasis="BOLD", color=FAINT)
    with paper.table(
        col_widths=tuple(COLUMNS.values()),
        borders_layout="HORIZONTAL_LINES",
        headings_style=head,
        line_height=5,
        padding=1,
        text_align="LEFT",
    ) as table:
        row = table.row()
        for heading in COLUMNS:
            row.cell(heading)
        for place in places:
            row = table.row()
            row.cell(place.matters, style=FontFace(color=FAULT) if place.matters == "fault" else None)
            for text in (place.version, place.shot, place.thing):
                row.cell(text)
            row.cell(str(place.frame), align="RIGHT")
            picture = _picture(place)
            if picture is None:
                row.cell("")
            else:
                row.cell(img=picture, img_fill_width=True)
            row.cell(place.says)


def _picture(place: Place) -> io.BytesIO | None:
    """The bytes of a picture that comes along as an address of data; None where there is none."""
    if not place.picture.startswith(PICTURE):
        return None
    try:
        return io.BytesIO(base64.b64decode(place.picture.removeprefix(PICTURE), validate=True))
    except binascii.Error:
        return None
