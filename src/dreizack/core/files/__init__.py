"""Files that are there whole or not at all, and disks that are full."""

from .full import DiskFull, disk_is_full, say_disk_full
from .whole import remove_partial, whole_file, write_whole

__all__ = ["DiskFull", "disk_is_full", "remove_partial", "say_disk_full", "whole_file", "write_whole"]
