"""Arrays and words as bytes, as they are kept of levels and surfaces. Strict, since such bytes come back in
project files: a header in JSON, then the arrays as they are.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

import numpy as np
from numpy.typing import NDArray

from ..core.refusals import Refusal

MEDIA_TYPE = "application/vnd.sandscale.levels"
AS_IT_CAME = "application/octet-stream"  # of a file that levels were read from
_MAGIC = b"SSPK1\n"
_KINDS = ("<f8", "<i8", "<i4", "|u1")
_LARGEST_HEADER = 64 * 1024 * 1024
_MOST_AXES = 3


def pack(arrays: Mapping[str, NDArray[Any]], words: Mapping[str, Any] | None = None) -> bytes:
    """Arrays of numbers by name, and whatever JSON holds beside them."""
    plain = {name: np.ascontiguousarray(array) for name, array in arrays.items()}
    kinds = {name: [array.dtype.str, list(array.shape)] for name, array in plain.items()}
    header = json.dumps({"arrays": kinds, "words": words or {}}, allow_nan=False).encode()
    return b"".join(
        [_MAGIC, len(header).to_bytes(4, "little"), header, *(array.tobytes() for array in plain.values())]
    )


def unpack(content: bytes) -> tuple[dict[str, NDArray[Any]], dict[str, Any]]:
    """What was packed.

    Raises:
        Refusal: it is no such bytes, or of other sizes than it says.
    """
    try:
        return _unpacked(memoryview(content))
    except (ValueError, TypeError, KeyError, OverflowError, RecursionError):
        raise Refusal("Levels that were kept can't be read again.", field="levels") from None


def _unpacked(content: memoryview) -> tuple[dict[str, NDArray[Any]], dict[str, Any]]:
    at = len(_MAGIC) + 4
    size = int.from_bytes(content[len(_MAGIC) : at], "little")
    if content[: len(_MAGIC)] != _MAGIC or size > min(_LARGEST_HEADER, len(content)):
        raise ValueError
    header = json.loads(bytes(content[at : at + size]))
    at += size
    arrays: dict[str, NDArray[Any]] = {}
    for name, (kind, shape) in header["arrays"].items():
        whole = all(type(n) is int and n >= 0 for n in shape)
        if kind not in _KINDS or not whole or len(shape) > _MOST_AXES:
            raise ValueError
        length = int(np.dtype(kind).itemsize)
        for n in shape:
            length *= n
        if length > len(content) - at:
            raise ValueError
        arrays[name] = np.frombuffer(content[at : at + length], dtype=kind).reshape(shape)
        at += length
    if at != len(content) or not isinstance(header["words"], dict):
        raise ValueError
    return arrays, header["words"]
