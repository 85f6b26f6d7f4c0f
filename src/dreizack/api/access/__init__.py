"""Who may speak with the server, and what browsers may do with its answers.

Hosts, origins and a token are checked before any route is reached; headers go on every answer.
"""

from .policy import LOOPBACK, AccessPolicy

__all__ = ["LOOPBACK", "AccessPolicy"]
