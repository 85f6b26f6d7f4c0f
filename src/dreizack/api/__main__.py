"""The server process: ``python -m dreizack.api``."""

import os
from pathlib import Path

import uvicorn

from . import create_app

if __name__ == "__main__":
    app = create_app(os.environ["DREIZACK_DATABASE"], Path(os.environ["DREIZACK_DATA"]))
    # Whoever waits for a picture when the server stops is not waited for.
    uvicorn.run(
        app, host="127.0.0.1", port=int(os.environ["DREIZACK_PORT"]), log_level="warning", ws="websockets-sansio", timeout_graceful_shutdown=3,
    )
