"""Files that are written whole or not at all, and faults of the disk in plain sentences."""

from __future__ import annotations

import errno
import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from dolcezza.core.base.errors import StudioError


def disk_error(error: OSError, path: Path) -> StudioError:
    """The sentence for a fault of the disk."""
    if error.errno in (errno.ENOSPC, errno.EDQUOT):
        return StudioError("The disk is full; nothing was changed.", "Make room and try again.")
    if error.errno in (errno.EACCES, errno.EPERM, errno.EROFS):
        return StudioError(f"{path} may not be written.", "Choose another folder, or change its permissions.")
    return StudioError(f"{path.name} could not be written ({error.strerror or error}).", "Try again, or choose another folder.")


@contextmanager
def disk_faults(path: Path) -> Iterator[None]:
    """Turn any OSError inside into a StudioError about ``path``."""
    try:
        yield
    except OSError as error:
        raise disk_error(error, path) from error


PRIVATE_FOLDER = 0o700


def keep_private(folder: Path) -> None:
    """A folder that nobody else on this machine looks into; made if it is not there. Raises StudioError."""
    with disk_faults(folder):
        folder.mkdir(parents=True, exist_ok=True, mode=PRIVATE_FOLDER)
        if folder.stat().st_mode & 0o077:
            try:
                folder.chmod(PRIVATE_FOLDER)
            except PermissionError:
                return  # it belongs to somebody else, who lends it


def write_whole(path: Path, text: str) -> None:
    """Write a text file in one step: readers see the old or the new content, never half of it. Raises StudioError."""
    write_bytes_whole(path, text.encode("utf-8"))


def write_bytes_whole(path: Path, data: bytes) -> None:
    """The same for bytes."""
    path = Path(path)
    with disk_faults(path):
        path.parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=path.parent, prefix=".writing-")
        try:
            with os.fdopen(handle, "wb") as out:
                out.write(data)
                out.flush()
                os.fsync(out.fileno())
            Path(name).replace(path)
        except BaseException:
            Path(name).unlink(missing_ok=True)
            raise


def ready_folder(folder: Path) -> Path:
    """A folder into which can be written, made if it is not there; told before long work, not after. Raises StudioError."""
    folder = Path(folder)
    if folder.exists() and not folder.is_dir():
        raise StudioError(f"{folder} is a file, not a folder.", "Name another folder for what is written.")
    with disk_faults(folder):
        folder.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(dir=folder, prefix=".writing-")
        os.close(handle)
        Path(name).unlink()
    return folder
