"""Addresses of values: JSON Pointers (RFC 6901) into a document model."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel
from pydantic.fields import FieldInfo


def split(pointer: str) -> list[str]:
    """Tokens of a pointer, unescaped (RFC 6901, section 4).

    >>> split("/things/key~1left/tint")
    ['things', 'key/left', 'tint']
    """
    if not pointer.startswith("/"):
        raise KeyError(pointer)
    return [token.replace("~1", "/").replace("~0", "~") for token in pointer[1:].split("/")]


def resolve(model: BaseModel, pointer: str) -> Any:
    """The value a pointer leads to; KeyError where it leads nowhere."""
    here: Any = model
    for token in split(pointer):
        if isinstance(here, BaseModel) and token in type(here).model_fields:
            here = getattr(here, token)
        elif isinstance(here, dict) and token in here:
            here = here[token]
        elif isinstance(here, list) and token.isdecimal() and int(token) < len(here):
            here = here[int(token)]
        else:
            raise KeyError(pointer)
    return here


def keyable(model: BaseModel, pointer: str) -> bool:
    """Whether a pointer leads to a number that may have keys."""
    parent, _, last = pointer.rpartition("/")
    try:
        owner = resolve(model, parent)
    except KeyError:
        return False
    field = type(owner).model_fields.get(last) if isinstance(owner, BaseModel) else None
    return _says(field) is True and not _held_fast(model, parent)


def _held_fast(model: BaseModel, pointer: str) -> bool:
    """Whether what a pointer leads to may have no keys as a whole, as some colours."""
    above, _, last = pointer.rpartition("/")
    owner = resolve(model, above) if above else model
    return isinstance(owner, BaseModel) and _says(type(owner).model_fields.get(last)) is False


def _says(field: FieldInfo | None) -> object:
    extra = field.json_schema_extra if field else None
    return extra.get("keyable") if isinstance(extra, dict) else None


def escaped(token: str) -> str:
    """A token as it stands in a pointer (RFC 6901, section 3)."""
    return token.replace("~", "~0").replace("/", "~1")


def resolve_plain(tree: Any, pointer: str) -> Any:
    """The value a pointer leads to in plain JSON data; None where it leads nowhere."""
    try:
        for token in split(pointer) if pointer else []:
            tree = tree[int(token)] if isinstance(tree, list) else tree[token]
    except (LookupError, TypeError, ValueError):
        return None
    return tree
