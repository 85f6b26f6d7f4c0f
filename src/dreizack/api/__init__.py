"""The web's way in: thin FastAPI routes that turn requests into core and store calls."""

from .app import create_app

__all__ = ["create_app"]
