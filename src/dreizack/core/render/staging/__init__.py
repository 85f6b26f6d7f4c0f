"""The scene on stage: frame states as the renderer's own objects, and as tables for the kernels."""
