"""Light transport: paths of light and features as kernels, on tables of numbers that say what is in a scene.

Knows no stage and no pictures; a kernel has only what occurs in a scene.
"""
