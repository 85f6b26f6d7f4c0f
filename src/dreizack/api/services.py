"""What routes work with."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import procrastinate
from fastapi import Depends, Request

from ..core.scene import BodyStore
from ..store import Store
from ..store.frame_cache import FrameCache
from ..store.view_cache import ViewCache

if TYPE_CHECKING:
    from .chips import Chips
    from .live import Hub
    from .posters import Posters
    from .traced import TracedViews


@dataclass(frozen=True)
class Services:
    """Everything behind the routes."""

    store: Store
    bodies: BodyStore
    data: Path
    jobs: procrastinate.App
    views: TracedViews
    posters: Posters
    chips: Chips
    hub: Hub
    kept_views: ViewCache
    kept_frames: FrameCache


def services(request: Request) -> Services:
    found: Services = request.app.state.services
    return found


Behind = Annotated[Services, Depends(services)]
