"""Where the body and hand models lie, and how they come there: out of a package that is used as an archive only."""

from __future__ import annotations

import hashlib
import os
import subprocess
import sys
import tempfile
import zipfile
from pathlib import Path, PurePosixPath

import platformdirs

from dolcezza.core.base.errors import ModelsMissing
from dolcezza.core.models.nets import FILES
from dolcezza.storage.files import write_bytes_whole

ARCHIVE = "mediapipe==0.10.14"
"""The package whose models are used; Apache 2.0. Nothing of it is installed or run."""
ARCHIVE_PYTHON = "3.12"
"""The newest Python it was made for; its models do not care."""
SHA256 = {
    "pose_detection.tflite": "9ba9dd3d42efaaba86b4ff0122b06f29c4122e756b329d89dca1e297fd8f866c",
    "pose_landmark_full.tflite": "e9a5c5cb17f736fafd4c2ec1da3b3d331d6edbe8a0d32395855aeb2cdfd64b9f",
    "palm_detection_full.tflite": "1b14e9422c6ad006cde6581a46c8b90dd573c07ab7f3934b5589e7cea3f89a54",
    "hand_landmark_full.tflite": "11c272b891e1a99ab034208e23937a8008388cf11ed2a9d776ed3d01d0ba00e3",
}
VARIABLE = "DOLCEZZA_MODELS"
ADVICE = "Run “dolcezza setup” once, with the network on, or “dolcezza setup --archive FILE” with the package that holds them."


def folders() -> list[Path]:
    """Where models are looked for, first to last: where the environment variable says, or in this Python, the user's own, the system's."""
    told = os.environ.get(VARIABLE)
    return [Path(told)] if told else [environment_folder(), user_folder(), Path("/usr/share/dolcezza/models")]


def environment_folder() -> Path:
    """The models' place in this Python environment."""
    return Path(sys.prefix) / "share" / "dolcezza" / "models"


def user_folder() -> Path:
    """The models' place for one user, where the environment may not be written."""
    return Path(platformdirs.user_data_dir("dolcezza")) / "models"


def model_folder() -> Path:
    """The first folder with all models. Raises ModelsMissing."""
    for folder in folders():
        if all((folder / name).is_file() for name in FILES.values()):
            return folder
    raise ModelsMissing("The models for arm and hand are not installed.", ADVICE)


def unpack(archive: Path) -> Path:
    """Take the models out of the package's file and keep them; where they lie then.

    Raises ModelsMissing where the file is no such package or holds others than those this version was made with.
    """
    try:
        with zipfile.ZipFile(archive) as package:
            inside = {PurePosixPath(name).name: name for name in package.namelist()}
            found = {name: package.read(inside[name]) for name in SHA256 if name in inside}
    except (OSError, zipfile.BadZipFile) as error:
        raise ModelsMissing(f"{archive} cannot be read as a package ({error}).", ADVICE) from error
    for name, wanted in SHA256.items():
        if name not in found or hashlib.sha256(found[name]).hexdigest() != wanted:
            raise ModelsMissing(f"{archive.name} does not hold the models that this version uses ({name}).", f"It must be {ARCHIVE}.")
    folder = environment_folder() if os.access(sys.prefix, os.W_OK) else user_folder()
    folder.mkdir(parents=True, exist_ok=True)
    for name, content in found.items():
        write_bytes_whole(folder / name, content)
        (folder / name).chmod(0o644)
    return folder


def fetch() -> Path:
    """Get the package by pip, take the models out and keep them. Only ever done when the user asks for it. Raises ModelsMissing."""
    with tempfile.TemporaryDirectory() as here:
        pip = [sys.executable, "-m", "pip", "download", "--quiet", "--disable-pip-version-check", "--no-deps", "--only-binary=:all:"]
        asked = subprocess.run(
            [*pip, "--python-version", ARCHIVE_PYTHON, "--dest", here, ARCHIVE], capture_output=True, text=True, check=False
        )
        packages = list(Path(here).glob("*.whl"))
        if asked.returncode or not packages:
            why = (asked.stderr.strip().splitlines() or ["pip gave no reason"])[-1]
            raise ModelsMissing(f"The models could not be fetched: {why}", ADVICE)
        return unpack(packages[0])
