"""``dolcezza``: without a command the desk, with one the command line. Each is imported only when chosen."""

from __future__ import annotations

import sys


def main() -> int:
    """Entry point of the ``dolcezza`` command."""
    from dolcezza.cli.main import run

    chosen = run(sys.argv[1:])
    if chosen is not None:
        return chosen
    from dolcezza.app.main import run_desk

    return run_desk(sys.argv)


if __name__ == "__main__":
    sys.exit(main())
