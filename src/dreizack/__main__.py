"""Entry of the one command, once its surroundings are installed."""

import sys

from .commands.main import main

if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
