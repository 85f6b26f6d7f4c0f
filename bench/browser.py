"""Debian's Chromium with WebGL on software, and waiting for what a page shows."""

from __future__ import annotations

import time
from typing import Any

from playwright.sync_api import Page

FLAGS = [
    "--no-sandbox",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--use-gl=angle",
    "--use-angle=gl-egl",
    "--ignore-gpu-blocklist",
    # A picture drawn by software may take longer than a graphics card may hang.
    "--disable-gpu-watchdog",
]


def until(page: Page, script: str, arg: Any = None, seconds: float = 90.0) -> Any:
    """Wait until a script (an expression or a function of ``arg``) answers something true; that answer.

    Asked from outside: a page with a content security policy runs no text as a script of its own.
    """
    end = time.monotonic() + seconds
    while not (found := page.evaluate(script, arg)):
        if time.monotonic() > end:
            raise TimeoutError(f"not within {seconds:.0f} s: {script}")
        page.wait_for_timeout(40)
    return found
