"""The server process: ``python -m dreizack.api``."""

import os
from pathlib import Path

import uvicorn

from ..work.logs import log_to
from ..work.orphans import die_with_supervisor
from .access import LOOPBACK, AccessPolicy
from .app import create_app

if __name__ == "__main__":
    die_with_supervisor()
    data = Path(os.environ["DREIZACK_DATA"])
    log_to(data, "server")
    access = AccessPolicy.read(os.environ)
    app = create_app(os.environ["DREIZACK_DATABASE"], data, access=access)
    uvicorn.run(
        app,
        host="0.0.0.0" if access.hosts - LOOPBACK else "127.0.0.1",
        port=int(os.environ["DREIZACK_PORT"]),
        log_config=None,
        access_log=False,
        # What a socket says is short; whoever waits for a picture when the server stops is not waited for.
        ws="websockets-sansio",
        ws_max_size=64 * 1024,
        timeout_graceful_shutdown=3,
        server_header=False,
        # Longer than a browser leaves a connection idle between two requests: closing one that is just being
        # used again would lose the request.
        timeout_keep_alive=75,
    )
