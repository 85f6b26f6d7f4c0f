"""A whole shot as a 3D scene that other programs read: bodies, finishes, camera, lights, and their motion."""

from .gltf import scene_file

__all__ = ["scene_file"]
