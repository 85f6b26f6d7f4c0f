"""The one command's parts: what ``./dreizack start``, ``render``, ``bench`` and the rest do."""
