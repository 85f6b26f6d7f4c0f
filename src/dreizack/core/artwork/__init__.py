"""Artwork to outlines: vector drawings read, bitmaps traced, meshes imported, path data taken as it is.

Foreign files are read in a sandbox, which loads only the one module that reads them; so each is imported by
itself, and this room hands out nothing.
"""
