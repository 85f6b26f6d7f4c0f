"""The application: routes, problem details, who may ask, the built interface."""

from __future__ import annotations

import asyncio
import contextlib
from collections.abc import AsyncIterator, Callable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import procrastinate
from fastapi import FastAPI

from .. import __version__
from ..core.library import shelve
from ..core.scene import BodyStore
from ..store import open_store
from ..store.frame_cache import FRAMES, FrameCache
from ..store.view_cache import ViewCache
from ..work.preview import VIEWS
from . import (
    archives,
    asking,
    brought_names,
    camera_files,
    clean_up,
    deliveries,
    fleet,
    grading,
    library,
    library_files,
    live,
    looks,
    motions,
    offers,
    own_eases,
    painting,
    plate_covers,
    plate_picks,
    plate_points,
    plates,
    productions,
    proof,
    scene,
    search,
    sequence_files,
    sequence_proof,
    sequences,
    shots,
    shown,
    sounds,
    starts,
    subtitles,
    takes,
    thumbnails,
    vocabulary,
    whole_looks,
)
from . import saved as keeping
from .access import AccessPolicy
from .access.headers import SecurityHeaders
from .access.middleware import AccessControl
from .chips import Chips
from .contract import add_published
from .faults import FaultAnswers
from .library import LIBRARY
from .limits import BodyLimit
from .pages import Pages
from .posters import Posters
from .problems import add_problem_handlers
from .services import Services
from .traced import TracedViews
from .uploads import most_bytes

# Threads of work that mostly waits.
THREADS = 24
WEB = Path(__file__).resolve().parents[3] / "web" / "dist"


ROOMS = (
    vocabulary,
    grading,
    library,
    keeping,
    productions,
    proof,
    shots,
    starts,
    brought_names,
    camera_files,
    subtitles,
    motions,
    looks,
    offers,
    own_eases,
    whole_looks,
    plates,
    painting,
    plate_covers,
    plate_picks,
    plate_points,
    sounds,
    takes,
    scene,
    shown,
    archives,
    asking,
    deliveries,
    fleet,
    thumbnails,
    sequences,
    sequence_files,
    sequence_proof,
    search,
    clean_up,
    library_files,
    live,
)


def _lifespan(
    address: str, data: Path, looking: bool
) -> Callable[[FastAPI], contextlib.AbstractAsyncContextManager[None]]:
    """Opens what requests are answered with, and closes it."""

    @contextlib.asynccontextmanager
    async def lifespan(app: FastAPI) -> AsyncIterator[None]:
        # Reading files, waiting for the database and asking the tracing process go on beside one another.
        asyncio.get_running_loop().set_default_executor(ThreadPoolExecutor(THREADS, "work"))
        store = open_store(address)
        jobs = procrastinate.App(connector=procrastinate.SyncPsycopgConnector(conninfo=address))
        jobs.open()
        views = TracedViews(looking, data / LIBRARY, data / VIEWS, data / FRAMES)
        hub = live.Hub(address)
        posters, chips = Posters(store, data / "posters", views), Chips(store, data / "chips", views)
        app.state.services = Services(
            store,
            BodyStore(),
            data,
            jobs,
            views,
            posters,
            chips,
            hub,
            ViewCache(data / VIEWS),
            FrameCache(data / FRAMES),
        )
        await hub.open(app.state.services)
        await views.open()
        try:
            yield
        finally:
            await views.close()
            await hub.close()
            jobs.close()
            store.close()

    return lifespan


def create_app(
    address: str,
    data: Path,
    web: Path | None = WEB,
    looking: bool = True,
    access: AccessPolicy = AccessPolicy(),  # noqa: B008
) -> FastAPI:
    """The application on a database and a data folder; ``looking`` starts the traced view's process."""

    shelve(data / LIBRARY)

    app = FastAPI(
        title="Dreizack",
        version=__version__,
        lifespan=_lifespan(address, data, looking),
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/openapi.json",
        separate_input_output_schemas=False,
    )
    # The last one added is the first one a request meets.
    app.add_middleware(BodyLimit, most=most_bytes)
    app.add_middleware(FaultAnswers)
    app.add_middleware(AccessControl, policy=access)
    app.add_middleware(SecurityHeaders)
    add_problem_handlers(app)
    for room in ROOMS:
        app.include_router(room.router, prefix="/api")
    add_published(app)
    if web and web.is_dir():
        app.mount("/", Pages(web), name="pages")
    return app
