"""Workbooks (Office Open XML) as tables of text."""

from __future__ import annotations

import csv
import io

import openpyxl

from ..sandbox import Unreadable

# Headings and versions of a sequence.
MAX_ROWS, MAX_COLUMNS = 501, 1000


def first_sheet(data: bytes) -> bytes:
    """In the sandbox: the first sheet of a workbook (Office Open XML) as CSV."""
    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
    except Exception as why:
        raise Unreadable("this is no workbook (XLSX), or it is damaged; save the table as CSV") from why
    out = io.StringIO()
    writer = csv.writer(out)
    for number, row in enumerate(sheet.iter_rows(values_only=True)):
        if number > MAX_ROWS:
            raise Unreadable(f"the sheet has more than {MAX_ROWS - 1} versions")
        writer.writerow(["" if cell is None else str(cell) for cell in row[:MAX_COLUMNS]])
    return out.getvalue().rstrip(",\r\n").encode()
