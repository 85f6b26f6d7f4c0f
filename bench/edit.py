"""From an edit to the live view that shows it, in the browser, while a delivery renders."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from playwright.sync_api import sync_playwright

from .browser import FLAGS, until
from .figure import Figure
from .site import forty_letters, order, running, wait_for

# One press of an arrow key in a field, then the time until a newer revision is drawn.
PRESS = """async (label) => {
  const live = document.querySelector('[data-testid=live]');
  const before = Number(live.dataset.drawn.split(':')[0]);
  const field = [...document.querySelectorAll('input[role=spinbutton]')].find((f) => f.ariaLabel === label);
  const asked = performance.now();
  field.dispatchEvent(new KeyboardEvent('keydown', { key: 'ArrowUp', bubbles: true }));
  await new Promise((done) => {
    const watch = new MutationObserver(() => {
      if (Number(live.dataset.drawn.split(':')[0]) > before) { watch.disconnect(); done(); }
    });
    watch.observe(live, { attributes: true, attributeFilter: ['data-drawn'] });
  });
  return performance.now() - asked;
}"""


def measure() -> Iterator[Figure]:
    with running() as site, sync_playwright() as playwright:
        shot = forty_letters(site)
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{site.address}/shots/{shot}")
        until(page, "document.querySelector('[data-testid=live]')?.dataset.drawn !== undefined")
        page.locator(".time-row .thing").first.click()
        page.wait_for_timeout(4000)
        delivery = order(site, shot)
        wait_for(site, delivery, 1)
        for label, what in (("rotation yaw", "a place"), ("tracking", "a setting"), ("depth", "every body")):
            for _ in range(3):
                page.evaluate(PRESS, label)
            times = []
            for _ in range(25):
                times.append(page.evaluate(PRESS, label))
                page.wait_for_timeout(120)
            yield Figure(
                f"edit of {what} to live view, 40 letters, a delivery under way, median",
                float(np.median(times)),
                "ms",
                100,
            )
            yield Figure(
                f"edit of {what} to live view, 95th of 100", float(np.percentile(times, 95)), "ms", 200
            )
        site.ask("POST", f"/api/deliveries/{delivery}/cancel")
        browser.close()
