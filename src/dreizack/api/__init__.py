"""The web's way in: thin FastAPI routes that turn requests into core and store calls."""
