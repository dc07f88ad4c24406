"""Philox, counter-based random numbers, filled into tables by a compiled loop.

Philox4x64 with ten rounds: Salmon, Moraes, Dror and Shaw (2011), "Parallel random numbers: as
easy as 1, 2, 3", section 3.4 and its constants. Numbers and their order are those of
``numpy.random.Generator(numpy.random.Philox(key=…)).random()``, bit for bit: making such an
object for every key takes longer than drawing a group's day from it.
"""

from __future__ import annotations

import numpy as np
from llvmlite import ir
from numba import types
from numba.extending import intrinsic
from numpy.typing import NDArray

from idle_harbor.core.base.compiled import compiled

_MULTIPLY_0 = np.uint64(0xD2E7470EE14C6C93)
_MULTIPLY_1 = np.uint64(0xCA5A826395121157)
_WEYL_0 = np.uint64(0x9E3779B97F4A7C15)
_WEYL_1 = np.uint64(0xBB67AE8584CAA73B)
_ROUNDS = 10
_SHIFT = np.uint64(11)
_UNIT = 2.0**-53


@intrinsic
def _high_half(typingctx, a, b):
    """The upper 64 bits of a 64-bit product."""

    def generate(context, builder, signature, arguments):
        wide = ir.IntType(128)
        product = builder.mul(builder.zext(arguments[0], wide), builder.zext(arguments[1], wide))
        return builder.trunc(builder.lshr(product, ir.Constant(wide, 64)), ir.IntType(64))

    return types.uint64(types.uint64, types.uint64), generate


@compiled("void(f8[:, ::1], i8[::1], u8[:, ::1], i8)", entry=True)
def fill_uniforms(
    table: NDArray[np.float64],
    rows: NDArray[np.int64],
    keys: NDArray[np.uint64],
    count: int,
) -> None:
    """Write the first ``count`` numbers in [0, 1) of ``keys[k]`` into row ``rows[k]``."""
    for k in range(rows.shape[0]):
        row = rows[k]
        block = np.uint64(0)
        for first in range(0, count, 4):
            block += np.uint64(1)
            key0, key1 = keys[k, 0], keys[k, 1]
            c0, c1, c2, c3 = block, np.uint64(0), np.uint64(0), np.uint64(0)
            for turn in range(_ROUNDS):
                if turn > 0:
                    key0 += _WEYL_0
                    key1 += _WEYL_1
                high0, low0 = _high_half(_MULTIPLY_0, c0), _MULTIPLY_0 * c0
                high1, low1 = _high_half(_MULTIPLY_1, c2), _MULTIPLY_1 * c2
                c0, c1, c2, c3 = high1 ^ c1 ^ key0, low1, high0 ^ c3 ^ key1, low0
            left = count - first
            table[row, first] = np.float64(c0 >> _SHIFT) * _UNIT
            if left > 1:
                table[row, first + 1] = np.float64(c1 >> _SHIFT) * _UNIT
            if left > 2:
                table[row, first + 2] = np.float64(c2 >> _SHIFT) * _UNIT
            if left > 3:
                table[row, first + 3] = np.float64(c3 >> _SHIFT) * _UNIT
