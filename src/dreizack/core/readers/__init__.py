"""Readers of foreign files that run in the sandbox: each a module by itself, so that a reader's process loads
what it needs and no more."""
