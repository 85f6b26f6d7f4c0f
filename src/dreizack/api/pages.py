"""The built interface, served from its folder and from nowhere else."""

from __future__ import annotations

from pathlib import Path

from starlette.exceptions import HTTPException
from starlette.responses import FileResponse, Response
from starlette.staticfiles import StaticFiles
from starlette.types import Receive, Scope, Send


class Pages(StaticFiles):
    """Files of a folder; every other address is a page of the interface, which finds its own way.

    What lies outside the folder once links are followed is never read (``StaticFiles.lookup_path``).
    """

    def __init__(self, folder: Path) -> None:
        super().__init__(directory=folder, check_dir=True)
        self._index = folder / "index.html"

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] == "websocket":
            await receive()
            await send({"type": "websocket.close", "code": 1008})
            return
        await super().__call__(scope, receive, send)

    async def get_response(self, path: str, scope: Scope) -> Response:
        try:
            answer = await super().get_response(path, scope)
        except (HTTPException, ValueError, OSError) as why:
            if isinstance(why, HTTPException) and why.status_code != 404:
                raise
            first = path.replace("\\", "/").lstrip("/").partition("/")[0]
            if first in ("api", "assets"):
                raise HTTPException(404, "there is nothing at this address") from None
            return FileResponse(self._index, headers={"Cache-Control": "no-cache"})
        # Names of assets change with their content.
        answer.headers["Cache-Control"] = (
            "max-age=31536000, immutable" if path.startswith("assets/") else "no-cache"
        )
        return answer
