"""Drawings as another renderer shows them: what we read of each covers what a browser paints."""

from __future__ import annotations

import cv2
import numpy as np
import pytest
from playwright.sync_api import Browser

from dreizack.core.artwork.svg.reading import drawing

# Pixels a side, and how many of them a user unit has: what keeps its width goes by the screen.
SIDE, FINE = 1000, 10
HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100" '

DRAWINGS = {
    "a small circle's stroke": '<g transform="scale(40)"><circle cx="1.25" cy="1.25" r="1" fill="none"'
    ' stroke="black" stroke-width="0.2"/></g>',
    "strokes scaled unevenly": '<g transform="translate(10 10) scale(3 1)"><path d="M2 5L24 5L24 70"'
    ' fill="none" stroke="black" stroke-width="4" stroke-linejoin="round"/></g>',
    "strokes that keep their width": '<g transform="scale(4 2)"><path d="M4 5L20 5L20 40" fill="none"'
    ' stroke="black" stroke-width="5" vector-effect="non-scaling-stroke"/></g>',
    "caps, joins and mitres": '<g fill="none" stroke="black" stroke-width="7"><path d="M10 20L40 8L60 30"'
    ' stroke-linecap="round"/><path d="M10 60L50 45L20 80" stroke-linecap="square" stroke-linejoin="bevel"/>'
    '<path d="M60 90L75 40L88 90" stroke-miterlimit="10"/></g>',
    "symbols with a viewport": '<symbol id="s" viewBox="0 0 10 20"><circle cx="5" cy="10" r="5"/>'
    '<rect x="-9" y="-9" width="12" height="12"/></symbol><use href="#s" x="20" y="10"'
    ' width="60" height="60"/>',
    "a drawing in a drawing": '<svg x="10" y="20" width="50%" height="40" viewBox="0 0 10 10"'
    ' preserveAspectRatio="xMaxYMin slice"><rect x="1" y="1" width="5" height="20"/></svg>',
    "shares and units": '<rect x="10%" y="5mm" width="30%" height="4em"/><circle cx="70%" cy="60%" r="15%"/>',
    "rules for clips": '<clipPath id="c"><path clip-rule="evenodd" d="M10 10H90V90H10Z M30 30H70V70H30Z"/>'
    '</clipPath><circle cx="50" cy="50" r="38" clip-path="url(#c)"/>',
    "selectors": "<style>g > .a { fill: none } * { stroke: none } g .b:not(.c) { fill: black }"
    ' rect[width="7"] { fill: none !important } .d { fill: none }</style>'
    '<g><rect class="a" x="5" y="5" width="30" height="30"/><rect class="b" x="50" y="10" width="30"'
    ' height="20" fill="none"/><rect x="10" y="50" width="7" height="40" style="fill: black"/>'
    '<g class="d"><circle class="b" cx="60" cy="70" r="15"/></g></g>',
    "transforms in styles": '<rect width="30" height="20"'
    ' style="transform: translate(40px, 30px) rotate(0.1turn)"/>'
    '<circle r="9" style="transform: translateX(20px) translateY(70px) scaleX(2)"/>',
    "seen inside unseen": '<g visibility="hidden"><rect x="10" y="10" width="50" height="30"/><circle cx="60"'
    ' cy="65" r="20" visibility="visible"/></g><g display="none"><rect width="99" height="99"'
    ' style="display:inline; visibility: visible"/></g>',
    "a switch": '<switch><rect x="5" y="5" width="30" height="20" systemLanguage="xx"/>'
    '<circle cx="50" cy="50" r="30"/><rect x="60" y="60" width="39" height="39"/></switch>',
    "holes and rules": '<path fill-rule="evenodd" d="M10 10H90V90H10Z M30 30H70V70H30Z M40 40H60V60H40Z"/>',
    "arcs": '<path d="M20 50a30 18 25 1 1 40 20a9 9 0 0 0-12 4z"/>',
    "no proportions kept": '<svg width="80" height="30" viewBox="0 0 10 10" preserveAspectRatio="none">'
    '<circle cx="5" cy="5" r="4"/></svg>',
}  # fmt: skip


def painted(browser: Browser, inside: str) -> np.ndarray:
    """What a browser makes of it, 0 where nothing and 1 where all is painted."""
    page = browser.new_page(
        viewport={"width": SIDE // FINE, "height": SIDE // FINE}, device_scale_factor=FINE
    )
    page.set_content(
        f'<body style="margin:0;background:white">{HEAD} width="100" height="100">{inside}</svg>'
    )
    data = np.frombuffer(page.screenshot(), np.uint8)
    page.close()
    return 1 - cv2.imdecode(data, cv2.IMREAD_GRAYSCALE).astype(np.float64) / 255


@pytest.mark.browser
@pytest.mark.parametrize("name", DRAWINGS)
def test_drawings_are_read_as_a_browser_paints_them(browser: Browser, name: str) -> None:
    truth = painted(browser, DRAWINGS[name])
    rows, columns = np.nonzero(truth.max(axis=1) > 0.5)[0], np.nonzero(truth.max(axis=0) > 0.5)[0]
    top, bottom, left, right = rows[0], rows[-1] + 1, columns[0], columns[-1] + 1
    found = drawing(f"{HEAD}>{DRAWINGS[name]}</svg>".encode())
    assert not found.left_out
    paths = "".join(f'<path d="{piece.path}"/>' for piece in found.pieces)
    size = (bottom - top) * 100 / SIDE
    at = f"translate({(left + right) * 50 / SIDE} {bottom * 100 / SIDE}) scale({size} {-size})"
    ours = painted(browser, f'<g transform="{at}">{paths}</g>')
    assert np.abs(ours - truth).mean() < 0.01 * max(truth.mean(), 0.2)
    assert np.minimum(ours, truth).sum() / np.maximum(ours, truth).sum() > 0.985
