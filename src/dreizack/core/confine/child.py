"""The confined process: ``python -m dreizack.core.confine.child READER MEGABYTES SECONDS [WORD=VALUE …]``."""

from __future__ import annotations

import importlib
import resource
import sys

from .run import OUT_OF_MEMORY, REFUSED


def main() -> int:
    reader, megabytes, seconds, *words = sys.argv[1:]
    module, _, function = reader.partition(":")
    read = getattr(importlib.import_module(module), function)
    limit = int(megabytes) * 1_000_000
    resource.setrlimit(resource.RLIMIT_AS, (limit + _used(), limit + _used()))
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds), int(seconds)))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    data = sys.stdin.buffer.read()
    try:
        made = read(data, **dict(word.split("=", 1) for word in words))
    except MemoryError:
        return OUT_OF_MEMORY
    except (ValueError, RecursionError) as why:
        sentence = "it is nested too deeply" if isinstance(why, RecursionError) else str(why)
        print(sentence, file=sys.stderr)
        return REFUSED
    sys.stdout.buffer.write(made)
    return 0


def _used() -> int:
    """Address space already taken, in bytes (proc(5), statm)."""
    with open("/proc/self/statm") as statm:
        return int(statm.read().split()[0]) * resource.getpagesize()


if __name__ == "__main__":
    sys.exit(main())
