"""PostgreSQL through plain SQL: productions, shots with their edits, deliveries, kept frames.

Queries are named and live in ``queries/*.sql``; migrations are numbered files in ``migrations``.
"""

from .connection import Store, open_store
from .migrate import migrate
from .shots import Conflict, NotThere

__all__ = ["Conflict", "NotThere", "Store", "migrate", "open_store"]
