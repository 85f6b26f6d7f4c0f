"""The layout holds on small screens and on very large ones."""

from __future__ import annotations

import pytest
from playwright.sync_api import Page

from .views import VIEWS, open_view

pytestmark = pytest.mark.browser
SIZES = [(900, 600), (1280, 800), (1920, 1080), (3840, 2160)]
PANES = [".picture", ".plot", ".bench", ".time", ".sequence-picture", ".line"]

# What is wrong with the page as it is: it can be moved sideways, panes reach out of it or lie over one
# another, buttons that could be pressed lie under something else or are cut off by the border of the page.
FAULTS = """panes => {
  const found = [], { innerWidth: w, innerHeight: h } = window;
  const root = document.scrollingElement;
  if (root.scrollWidth > w + 1) found.push(`the page is ${root.scrollWidth} wide`);
  const boxes = panes.flatMap(name => [...document.querySelectorAll(name)].slice(0, 1).map(node => {
    const { left, top, right, bottom } = node.getBoundingClientRect();
    return { name, left, top, right, bottom };
  })).filter(b => b.right - b.left > 1 && b.bottom - b.top > 1);
  for (const b of boxes) {
    if (b.left < -1 || b.top < -1 || b.right > w + 1 || b.bottom > h + 1)
      found.push(`${b.name} reaches out: ${[b.left, b.top, b.right, b.bottom].map(Math.round)}`);
    if (b.right - b.left < 120 || b.bottom - b.top < 60)
      found.push(`${b.name} is ${Math.round(b.right - b.left)} by ${Math.round(b.bottom - b.top)}`);
    for (const c of boxes)
      if (b.name < c.name && Math.min(b.right, c.right) - Math.max(b.left, c.left) > 2
          && Math.min(b.bottom, c.bottom) - Math.max(b.top, c.top) > 2)
        found.push(`${b.name} and ${c.name} lie over one another`);
  }
  // What scrolls shows the rest of itself by scrolling.
  const scrolls = node => {
    for (let at = node.parentElement; at; at = at.parentElement) {
      const { overflowY, overflowX } = getComputedStyle(at);
      if (/auto|scroll/.test(overflowY + overflowX)) return at;
    }
    return null;
  };
  const sticks = node => {
    for (let at = node; at; at = at.parentElement)
      if (getComputedStyle(at).position === "sticky") return true;
    return false;
  };
  const pressed = "button, a[href], select, input:not([hidden], [aria-hidden])";
  for (const node of document.querySelectorAll(pressed)) {
    const b = node.getBoundingClientRect();
    const seen = node.checkVisibility({ visibilityProperty: true, contentVisibilityAuto: true });
    if (!seen || b.width < 2 || b.height < 2 || node.disabled) continue;
    const said = (node.getAttribute("aria-label") || node.textContent || node.tagName).trim().slice(0, 40);
    const box = scrolls(node)?.getBoundingClientRect();
    const [x, y] = [(b.left + b.right) / 2, (b.top + b.bottom) / 2];
    if (box && (y < box.top || y > box.bottom || x < box.left || x > box.right)) continue;
    if (y > h && !box) { found.push(`"${said}" is below the page`); continue; }
    if (x < 0 || x > w || y < 0) { found.push(`"${said}" is outside`); continue; }
    if (y > h) continue;
    const hit = document.elementFromPoint(x, y);
    // Rows go under the heads of their own list as it is scrolled.
    if (box && sticks(hit)) continue;
    if (hit && !node.contains(hit) && !hit.contains(node) && !node.closest("label")?.contains(hit))
      found.push(`"${said}" lies under ${hit.tagName.toLowerCase()}.${hit.getAttribute("class")}`);
  }
  return found;
}"""


@pytest.mark.parametrize("view", VIEWS)
def test_nothing_is_cut_off_or_covered(page: Page, view: str) -> None:
    open_view(page, view)
    found: list[str] = []
    for width, height in SIZES:
        page.set_viewport_size({"width": width, "height": height})
        page.wait_for_timeout(400)
        if faults := page.evaluate(FAULTS, PANES):
            found.append(f"{width}x{height}: {', '.join(faults)}")
    assert not found, "\n".join(found)


def test_the_picture_stays_in_its_place_whatever_is_said_below_it(page: Page) -> None:
    open_view(page, "shot")
    for size in SIZES[:2]:
        page.set_viewport_size({"width": size[0], "height": size[1]})
        page.wait_for_timeout(400)
        places = []
        for view in ("Live", "Traced", "Live"):
            page.get_by_role("group", name="View").get_by_role("button", name=view).click()
            page.wait_for_timeout(800)
            places.append(page.get_by_test_id("live").bounding_box())
        assert places[0] == places[1] == places[2], size
