"""The one name for arrays. Shapes and units stand in the docstrings, kinds of numbers where they are not float64."""

from __future__ import annotations

from typing import Any, TypeAlias

import numpy.typing as npt

Array: TypeAlias = npt.NDArray[Any]
