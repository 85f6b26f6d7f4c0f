"""Calling off."""


class Stopped(Exception):
    """Nobody wants the picture any more."""
