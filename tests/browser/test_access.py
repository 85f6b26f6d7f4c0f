"""Every main view is looked over by an automatic check of accessibility (WCAG 2.2, levels A and AA)."""

from __future__ import annotations

import json
from typing import Any

import pytest
from playwright.sync_api import Page

from bench.browser import until
from tests.conftest import ROOT

from .test_main_job import open_demo

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
@pytest.mark.parametrize(
    "view", ["productions", "production", "new shot", "shot", "optics", "plate", "sequence", "deliveries"]
)
def test_no_view_keeps_anybody_out(page: Page, view: str) -> None:
    # High enough that no row is cut through by the border of its pane.
    page.set_viewport_size({"width": 1280, "height": 1100})
    if view == "productions":
        page.goto("/")
        page.get_by_role("link", name="SLACK WATER").last.wait_for()
    elif view in ("production", "new shot"):
        page.goto("/")
        page.get_by_role("link", name="SLACK WATER").last.click()
        page.get_by_role("link", name="Main title").last.wait_for()
        if view == "new shot":
            page.get_by_role("button", name="New shot").first.click()
            page.get_by_role("radio", name="as it comes").wait_for()
    elif view in ("shot", "optics"):
        open_demo(page, "Main title")
        if view == "optics":
            page.get_by_role("row", name="Optics").get_by_role("button", name="Optics", exact=True).click()
            page.get_by_role("button", name="Scopes").click()
    elif view == "plate":
        open_demo(page, "On the quay")
        page.get_by_role("row", name="Plate").get_by_role("button", name="Plate", exact=True).click()
    elif view == "sequence":
        page.goto("/")
        page.get_by_role("link", name="SLACK WATER").last.click()
        page.get_by_role("link", name="Opening").last.click()
        until(page, "document.querySelectorAll('.page, main, [class*=sequence]').length > 0")
        page.wait_for_timeout(1500)
    else:
        page.goto("/deliveries")
        page.get_by_role("heading", name="Deliveries").wait_for()
    found = violations(page)
    assert not found, "\n".join(found)
