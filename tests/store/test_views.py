"""Kept pictures of the traced view."""

from __future__ import annotations

import os
from pathlib import Path

from dreizack.store.view_cache import ViewCache, view_key


def test_pictures_are_kept_found_again_and_the_least_recently_used_go_first(tmp_path: Path) -> None:
    folder = ViewCache(tmp_path, limit=10_000)
    keys = [view_key(f"{i:02}name", 960, 540, 16) for i in range(4)]
    for age, key in enumerate(keys[:3]):
        folder.keep(key, b"x" * 3000)
        os.utime(next(tmp_path.glob(f"*/{key}.jpg")), (1000 + age, 1000 + age))
    assert folder.there(keys) == [True, True, True, False]
    assert folder.get(keys[0]) == b"x" * 3000
    folder.keep(keys[3], b"x" * 3000)
    # The first was used just now, the second least recently.
    assert folder.there(keys) == [True, False, True, True]
    assert folder.get(keys[1]) is None
    assert ViewCache(tmp_path, limit=10_000).there(keys) == [True, False, True, True]
