"""The tables of one run in one piece of memory, with canaries between them.

A table begins at a cache line and is followed by bytes of a known pattern up to the next one; in
front of it stands how many bytes it has. Whatever is written past a table's end or before its
beginning changes a canary, and the run is an error. In the checked build the compiled loop reads
the true size at each view (see ``world._table``).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.compiled import CHECKED

#: Bytes of a cache line.
LINE = 64
_CANARY = 0xC5
#: What a table that is not cleared holds before it is written, in the checked build.
_UNSET = 0xA7
_SIZE = np.dtype(np.int64)


@dataclass(frozen=True, slots=True)
class Table:
    """So many items of a type; ``cleared`` ones begin as zeros, others must be written first."""

    dtype: np.dtype[Any]
    count: int
    cleared: bool = True


def _rounded(size: int) -> int:
    return -(-size // LINE) * LINE


class Arena:
    """Tables by name, and whether what lies between them is as it was."""

    def __init__(self, tables: Mapping[str, Table]) -> None:
        sizes = {name: each.dtype.itemsize * each.count for name, each in tables.items()}
        whole = sum(LINE + _rounded(size) for size in sizes.values()) + LINE
        raw = np.empty(whole + LINE, dtype=np.uint8)
        skip = -raw.ctypes.data % LINE
        self._bytes = raw[skip : skip + whole]
        self._gaps: list[tuple[int, int]] = []
        self._found: dict[str, NDArray[Any]] = {}
        self._addresses: dict[str, int] = {}
        begin = self._bytes.ctypes.data
        before = at = 0
        for name, table in tables.items():
            at += LINE
            self._gap(before, at - _SIZE.itemsize)
            self._bytes[at - _SIZE.itemsize : at].view(_SIZE)[0] = sizes[name]
            inside = self._bytes[at : at + sizes[name]]
            if table.cleared:
                inside[:] = 0
            elif CHECKED:
                inside[:] = _UNSET
            self._found[name] = inside.view(table.dtype)
            # Not asked of the view: an empty one does not know where it begins.
            self._addresses[name] = begin + at
            before = at + sizes[name]
            at += _rounded(sizes[name])
        self._gap(before, whole)

    def _gap(self, begin: int, end: int) -> None:
        self._bytes[begin:end] = _CANARY
        self._gaps.append((begin, end))

    def __getitem__(self, name: str) -> NDArray[Any]:
        return self._found[name]

    def addresses(self) -> dict[str, int]:
        """Where each table begins."""
        return dict(self._addresses)

    def whole(self) -> bool:
        """Whether nothing was written between the tables."""
        return all(
            self._bytes[begin:end].tobytes().count(_CANARY) == end - begin
            for begin, end in self._gaps
        )
