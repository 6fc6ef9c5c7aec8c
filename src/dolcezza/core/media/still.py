"""Pictures from a file, upright, as RGB."""

from __future__ import annotations

from pathlib import Path

import cv2
import numpy as np

from dolcezza.core.base.arrays import Array
from dolcezza.core.base.errors import MediaError

SMALLEST_PX = 160


def read_still(path: Path) -> Array:
    """A picture (h, w, 3) RGB, turned as its own data say. Raises MediaError."""
    path = Path(path)
    try:
        data = np.frombuffer(path.read_bytes(), np.uint8)
    except OSError as error:
        raise MediaError(f"The picture {path.name} cannot be opened.", "Check its place and name.") from error
    image = cv2.imdecode(data, cv2.IMREAD_COLOR) if len(data) else None
    if image is None:
        raise MediaError(f"{path.name} is not a picture that can be read.", "Use a JPEG, PNG, WebP or TIFF file.")
    if min(image.shape[:2]) < SMALLEST_PX:
        raise MediaError(f"{path.name} is only {image.shape[1]} x {image.shape[0]} px.", "Copy the original from the phone, not a preview.")
    return cv2.cvtColor(image, cv2.COLOR_BGR2RGB)
