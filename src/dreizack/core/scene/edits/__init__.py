"""Edits of a shot over time that need to know where things stand: offered whole, as patches (RFC 6902)."""

from .hanging import hung_on
from .rigging import rigged
from .spans import respanned

__all__ = ["hung_on", "respanned", "rigged"]
