"""Dreizack builds extruded 3D titles for video: form, light, motion."""

__version__ = "0.1.0"
