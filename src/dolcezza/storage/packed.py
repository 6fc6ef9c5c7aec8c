"""Frozen dataclasses with arrays in them, packed into one NPZ file and back: an open format without any code in it."""

from __future__ import annotations

import io
import json
import types
from dataclasses import fields, is_dataclass
from pathlib import Path
from typing import Any, TypeVar, Union, get_args, get_origin, get_type_hints

import numpy as np

from dolcezza.core.base.errors import UNREADABLE, StudioError
from dolcezza.storage.files import write_bytes_whole

T = TypeVar("T")
TREE = "tree"
CACHE_FILE = "bench.npz"
"""What a measurement keeps of itself beside its open files."""


def pack(thing: Any) -> bytes:
    """A dataclass of numbers, texts, arrays, tuples, lists, dicts and further dataclasses as the bytes of an NPZ file."""
    arrays: dict[str, np.ndarray] = {}

    def node(value: Any) -> Any:
        if isinstance(value, np.ndarray):
            name = f"a{len(arrays)}"
            arrays[name] = value
            return {"array": name}
        if is_dataclass(value) and not isinstance(value, type):
            return {f.name: node(getattr(value, f.name)) for f in fields(value)}
        if isinstance(value, dict):
            return [[node(k), node(v)] for k, v in value.items()]
        if isinstance(value, (list, tuple)):
            return [node(v) for v in value]
        return value.item() if isinstance(value, np.generic) else value

    tree = json.dumps(node(thing))
    out = io.BytesIO()
    np.savez_compressed(out, **{TREE: np.array(tree)}, **arrays)  # type: ignore[arg-type]
    return out.getvalue()


def unpack(kind: type[T], data: bytes) -> T:
    """Inverse of ``pack``. Raises StudioError when the file is damaged or of another version."""
    try:
        with np.load(io.BytesIO(data), allow_pickle=False) as held:
            tree = json.loads(str(held[TREE]))
            built: T = _build(kind, tree, held)
            return built
    except (OSError, EOFError, *UNREADABLE) as error:
        raise StudioError("What was kept of this measurement cannot be read.", "Analyse the video again.") from error


def _build(kind: Any, node: Any, arrays: Any) -> Any:
    origin, inner = get_origin(kind), get_args(kind)
    if origin in (Union, types.UnionType):
        if node is None:
            return None
        return _build(next(a for a in inner if a is not type(None)), node, arrays)
    if kind is np.ndarray or origin is np.ndarray:
        return arrays[node["array"]]
    if is_dataclass(kind):
        hints = get_type_hints(kind)
        # fields of an earlier version that are no more are passed over
        return kind(**{name: _build(hints[name], value, arrays) for name, value in node.items() if name in hints})  # type: ignore[operator]
    if origin is dict:
        return {_build(inner[0], k, arrays): _build(inner[1], v, arrays) for k, v in node}
    if origin is tuple:
        kinds = [inner[0]] * len(node) if len(inner) == 2 and inner[1] is Ellipsis else inner
        return tuple(_build(k, v, arrays) for k, v in zip(kinds, node, strict=True))
    if origin is list:
        return [_build(inner[0], v, arrays) for v in node]
    return node if kind is Any else kind(node)


def write_packed(path: Path, thing: Any) -> None:
    """Write a packed dataclass in one step. Raises StudioError."""
    write_bytes_whole(path, pack(thing))


def read_packed(kind: type[T], path: Path) -> T | None:
    """Read a packed dataclass; None where there is no such file. Raises StudioError when it is damaged."""
    try:
        data = Path(path).read_bytes()
    except FileNotFoundError:
        return None
    except OSError as error:
        raise StudioError(f"{Path(path).name} cannot be read.", "Analyse the video again.") from error
    return unpack(kind, data)
