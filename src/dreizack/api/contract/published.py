"""Models that no route answers with as JSON, added to the published description."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI
from pydantic.json_schema import models_json_schema

from .messages import Connected, KeptFrame, News, PictureHeader, Refusal
from .scene_facts import SceneFacts

PUBLISHED = (SceneFacts, News, Connected, KeptFrame, Refusal, PictureHeader)


def add_published(app: FastAPI) -> None:
    """Have the application's OpenAPI description hold :data:`PUBLISHED` and what they are made of."""
    plain = app.openapi

    def description() -> dict[str, Any]:
        if app.openapi_schema is None:
            found = plain()
            _, schemas = models_json_schema(
                [(model, "serialization") for model in PUBLISHED], ref_template="#/components/schemas/{model}"
            )
            for name, schema in schemas.get("$defs", {}).items():
                found["components"]["schemas"].setdefault(name, schema)
        return app.openapi_schema or found

    app.openapi = description  # type: ignore[method-assign]
