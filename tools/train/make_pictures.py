"""Pictures to learn from: ``python tools/train/make_pictures.py DIR --scenes N [--from SEED]``; every scene from three places, in files of
64 scenes (``NAME.images.npy`` bytes (n, 256, 256, 3), ``NAME.places.npy`` (n, 14, 2) px)."""

from __future__ import annotations

import argparse
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import cv2
import numpy as np

from dolcezza.simulator.chance import any_pictures

EACH = 64
PX = 256


def one_file(job: tuple[Path, int, bool]) -> Path:
    """Render the scenes of one file, if it is not there yet."""
    folder, first, detail = job
    cv2.setNumThreads(1)
    name = folder / f"{first:07d}"
    if not name.with_suffix(".places.npy").exists():
        pictures = [p for seed in range(first, first + EACH) for p in any_pictures(seed, PX, detail=detail)]
        np.save(name.with_suffix(".images.npy"), np.stack([image for image, _ in pictures]))
        np.save(name.with_suffix(".places.npy"), np.stack([places for _, places in pictures]).astype(np.float32))
    return name


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--scenes", type=int, default=8192)
    parser.add_argument("--from", dest="first", type=int, default=0)
    parser.add_argument("--detail", action="store_true", help="only what is around the bridge")
    options = parser.parse_args()
    options.folder.mkdir(parents=True, exist_ok=True)
    jobs = [(options.folder, first, options.detail) for first in range(options.first, options.first + options.scenes, EACH)]
    with ProcessPoolExecutor(2) as pool:
        for name in pool.map(one_file, jobs):
            print(name, flush=True)


if __name__ == "__main__":
    main()
