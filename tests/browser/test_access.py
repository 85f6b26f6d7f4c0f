"""Every main view is looked over by an automatic check of accessibility (WCAG 2.2, levels A and AA)."""

from __future__ import annotations

import json
from typing import Any

import pytest
from playwright.sync_api import Page

from tests.conftest import ROOT

from .views import VIEWS, open_view

AXE = ROOT / "web/node_modules/axe-core/axe.min.js"
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


def violations(page: Page) -> list[str]:
    """What the check finds on a page as it is now, each with the elements it means."""
    # The page lets no script in but its own: the check comes in through the debugger.
    page.evaluate(AXE.read_text(encoding="utf-8"))
    found: dict[str, Any] = page.evaluate(
        "rules => axe.run(document, {runOnly: {type: 'tag', values: rules}})", RULES
    )
    return [
        f"{one['id']} ({one['impact']}): {json.dumps([node['html'][:160] for node in one['nodes']][:4])}"
        for one in found["violations"]
    ]


@pytest.mark.browser
@pytest.mark.parametrize("view", VIEWS)
def test_no_view_keeps_anybody_out(page: Page, view: str) -> None:
    # High enough that no row is cut through by the border of its pane.
    page.set_viewport_size({"width": 1280, "height": 1100})
    open_view(page, view)
    found = violations(page)
    assert not found, "\n".join(found)
