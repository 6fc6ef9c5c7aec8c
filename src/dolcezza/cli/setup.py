"""The command ``setup``: the models for arm and hand, fetched or taken from a file."""

from __future__ import annotations

import argparse

from dolcezza.core.base.errors import ModelsMissing
from dolcezza.services.model_files import fetch, model_folder, unpack


def run_setup(options: argparse.Namespace) -> int:
    """Put the models where they are found. Raises ModelsMissing."""
    if options.archive is not None:
        print(f"Models for arm and hand: {unpack(options.archive)}")
        return 0
    try:
        print(f"Models for arm and hand are there already: {model_folder()}")
    except ModelsMissing:
        print(f"Models for arm and hand: {fetch()}")
    return 0
