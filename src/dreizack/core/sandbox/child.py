"""The reader's process: ``python -m dreizack.core.sandbox.child READER MEGABYTES SECONDS [WORD=VALUE …]``.

The file is its standard input; what the reader makes of it goes to standard output.
"""

from __future__ import annotations

import errno
import importlib
import inspect
import resource
import sys
import traceback

from .run import DISK_FULL, FAULTY, OUT_OF_MEMORY, REFUSED, Unreadable


def main() -> int:
    """Run the reader named on the command line within its limits; the exit status says how it ended."""
    reader, megabytes, seconds, *words = sys.argv[1:]
    module, _, function = reader.partition(":")
    read = getattr(importlib.import_module(module), function)
    limit = int(megabytes) * 1_000_000
    resource.setrlimit(resource.RLIMIT_AS, (limit + _used(), limit + _used()))
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds), int(seconds)))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    try:
        source = (
            "/proc/self/fd/0" if "path" in inspect.signature(read).parameters else sys.stdin.buffer.read()
        )
        made = read(source, **dict(word.split("=", 1) for word in words))
        sys.stdout.buffer.write(made)
        sys.stdout.buffer.flush()
    except MemoryError:
        return OUT_OF_MEMORY
    except Unreadable as why:
        print(why, file=sys.stderr)
        return REFUSED
    except RecursionError:
        print("it is nested too deeply", file=sys.stderr)
        return REFUSED
    except OSError as why:
        traceback.print_exc()
        return DISK_FULL if why.errno in (errno.ENOSPC, errno.EDQUOT) else FAULTY
    except Exception:
        traceback.print_exc()
        return FAULTY
    return 0


def _used() -> int:
    """Address space already taken, in bytes (proc(5), statm)."""
    with open("/proc/self/statm") as statm:
        return int(statm.read().split()[0]) * resource.getpagesize()


if __name__ == "__main__":
    sys.exit(main())
