"""``dolcezza``: without a command the desk, with one the command line. Each is imported only when chosen."""

from __future__ import annotations

import gc
import os
import sys

from dolcezza.cli.main import parser, run, with_open


def main() -> int:
    """Entry point of the ``dolcezza`` command."""
    # what is written is of children: for nobody else on this machine
    os.umask(0o077)
    own_error_stream()
    one_thread_for_small_matrices()
    options = parser().parse_args(with_open(sys.argv[1:]))
    if options.command not in (None, "demo", "open"):
        return run(options)
    # hundreds of modules whose objects all stay: there is nothing to collect among them
    gc.disable()
    from dolcezza.app.main import run_demo, run_desk

    gc.freeze()
    gc.enable()
    if options.command == "demo":
        return run_demo(sys.argv, options.studio, options.out)
    return run_desk(sys.argv, options.studio, options.videos if options.command == "open" else ())


def own_error_stream() -> None:
    """Write errors to a copy of the error stream: the models' runtime has the stream itself silenced while it begins, in a thread of its
    own, and a sentence that came in that moment was lost."""
    if sys.__stderr__ is not None and sys.stderr is sys.__stderr__:
        sys.stderr = open(os.dup(2), "w", buffering=1, encoding=sys.__stderr__.encoding, errors="backslashreplace")  # noqa: SIM115, PTH123


def one_thread_for_small_matrices() -> None:
    """NumPy's matrices are small here, and the measuring has threads of its own: more of them only wait for each other (a tenth of the
    processors' time). Before NumPy is imported."""
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")


if __name__ == "__main__":
    sys.exit(main())
