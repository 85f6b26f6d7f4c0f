"""What people bring along - typefaces, pictures, meshes - as files named by their content.

The processes of one installation share a folder; a shot names what it needs from there.
"""

from .called import NOTE, call, called, forget
from .files import adopt, find, keep, shelve, shelves

__all__ = ["NOTE", "adopt", "call", "called", "find", "forget", "keep", "shelve", "shelves"]
