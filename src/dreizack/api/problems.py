"""Errors as problem details (RFC 9457): what happened, where, and what to do."""

from __future__ import annotations

from collections.abc import Awaitable, Callable
from typing import Any

import psycopg
from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from psycopg_pool import PoolTimeout
from pydantic import BaseModel
from starlette.exceptions import HTTPException
from starlette.responses import JSONResponse

from ..core.document import EditRefused, LookFileError, NewerDocument, ShotFileError
from ..core.exchange.cdl import CDLError
from ..core.exchange.subtitles import SubtitleError
from ..core.files import disk_is_full
from ..core.light import CannotPlace
from ..core.match import Contradicts
from ..core.media import FormatError
from ..core.motions import MotionFileError
from ..core.optics import TableFileError
from ..core.sandbox import FileRefused
from ..core.sequence import SequenceFileError
from ..store import Conflict, NotThere
from .traced import Unanswered

DISK_IS_FULL = (
    "The disk is full",
    "nothing was changed; free some space on the disk of the data folder and try again",
)
MEDIA_TYPE = "application/problem+json"


class Fault(BaseModel):
    """One thing that is wrong: where (JSON Pointer into the request) and why."""

    where: str
    why: str


class Problem(BaseModel):
    """RFC 9457 problem details, with the faults that led to it."""

    title: str
    status: int
    detail: str
    faults: list[Fault] = []


def problem(
    status: int, title: str, detail: str, faults: list[Fault] | None = None, **more: Any
) -> JSONResponse:
    body = Problem(title=title, status=status, detail=detail, faults=faults or []).model_dump() | more
    return JSONResponse(body, status_code=status, media_type=MEDIA_TYPE)


# Every route may answer with these; they are part of the published description.
PROBLEMS: dict[int | str, dict[str, Any]] = {
    code: {"model": Problem, "description": text, "content": {MEDIA_TYPE: {}}}
    for code, text in (
        (400, "The request cannot be read"),
        (404, "There is nothing of this id"),
        (409, "Made against an old state"),
        (413, "The request is too large"),
        (422, "A value is not acceptable"),
        (503, "The database does not answer"),
        (507, "The disk is full"),
    )
}


# What is said of input that a reader or a rule refuses, by what it raises.
REFUSALS: dict[type[Exception], str] = {
    ShotFileError: "The shot file was refused",
    MotionFileError: "The movement was refused",
    NewerDocument: "This cannot be read here",
    LookFileError: "The look file was refused",
    FileRefused: "The file was refused",
    SequenceFileError: "The sequence was refused",
    TableFileError: "The table was refused",
    SubtitleError: "The subtitles were refused",
    CDLError: "The grade was refused",
    FormatError: "The order was refused",
    CannotPlace: "The light cannot be placed so",
    Contradicts: "This cannot be taken from the plate",
}


def add_problem_handlers(app: FastAPI) -> None:
    """Answer every error with problem details."""

    @app.exception_handler(RequestValidationError)
    async def invalid(_: Request, why: RequestValidationError) -> JSONResponse:
        faults = [
            Fault(where="/" + "/".join(str(step) for step in e["loc"]), why=str(e["msg"]))
            for e in why.errors()[:20]
        ]
        first = faults[0] if faults else Fault(where="", why="the request is not acceptable")
        return problem(422, "A value is not acceptable", f"{first.where}: {first.why}", faults)

    @app.exception_handler(EditRefused)
    async def refused(_: Request, why: EditRefused) -> JSONResponse:
        return problem(
            422, "The edit was refused", f"{why.where}: {why}", [Fault(where=why.where, why=str(why))]
        )

    for kind, title in REFUSALS.items():
        app.add_exception_handler(kind, _refusal(title))
    _add_absences(app)


def _refusal(title: str) -> Callable[[Request, Exception], Awaitable[JSONResponse]]:
    async def refused(_: Request, why: Exception) -> JSONResponse:
        return problem(422, title, str(why), [Fault(where="", why=str(why))])

    return refused


def _add_absences(app: FastAPI) -> None:
    """Answer what is not there, has moved on, or does not answer itself."""

    @app.exception_handler(Unanswered)
    async def unanswered(_: Request, why: Unanswered) -> JSONResponse:
        return problem(503, "No answer", str(why))

    @app.exception_handler(NotThere)
    async def missing(_: Request, why: NotThere) -> JSONResponse:
        return problem(404, "Not there", str(why))

    @app.exception_handler(Conflict)
    async def conflict(_: Request, why: Conflict) -> JSONResponse:
        return problem(
            409,
            f"The {why.what} has changed",
            f"{why}; apply what changed since, then send the edit again",
            revision=why.revision,
            since=why.since,
        )

    @app.exception_handler(HTTPException)
    async def plain(_: Request, why: HTTPException) -> JSONResponse:
        return problem(why.status_code, "Not possible", str(why.detail))

    @app.exception_handler(PoolTimeout)
    @app.exception_handler(psycopg.OperationalError)
    async def database(_: Request, why: Exception) -> JSONResponse:
        if isinstance(why, psycopg.errors.DiskFull):
            return problem(507, *DISK_IS_FULL)
        return problem(503, "The database does not answer", "nothing was changed; try again in a moment")

    @app.exception_handler(OSError)
    async def disk(request: Request, why: OSError) -> JSONResponse:
        if disk_is_full(why, request.app.state.services.data):
            return problem(507, *DISK_IS_FULL)
        raise why
