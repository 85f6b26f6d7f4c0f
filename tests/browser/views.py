"""The main views of the interface, opened by name as somebody comes to them."""

from __future__ import annotations

from playwright.sync_api import Page

from bench.browser import until

from .test_main_job import open_demo

VIEWS = ["productions", "production", "new shot", "shot", "optics", "plate", "sequence", "deliveries"]


def open_view(page: Page, view: str) -> None:
    """Open a view of the demo and wait until what it shows is there."""
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
