"""Random numbers keyed by what they describe (common random numbers).

One Philox stream (Salmon et al. 2011, "Parallel random numbers: as easy as 1, 2, 3") per key;
its k-th value belongs to person k or host k. So adding a person, a host or a setting leaves
every other draw as it was, and two plans can be compared pair by pair.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from typing import Literal, TypeAlias

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from idle_harbor.core.base.caches import cached
from idle_harbor.core.demand.kernel.philox import fill_uniforms

Floats: TypeAlias = NDArray[np.float64]

_TINY = 2.0**-54
HostWork = Literal["host start", "host creation", "host start fails"]

#: The seed of everything that pictures show: a week looks the same in every view.
SHOWN_SEED = 1


def philox_key(seed: int, *key: object) -> tuple[int, int]:
    """The two words of the stream that a key names; equal keys give equal streams anywhere."""
    text = "\x1f".join([str(seed), *map(str, key)])
    digest = hashlib.blake2b(text.encode(), digest_size=16).digest()
    return int.from_bytes(digest[:8], "little"), int.from_bytes(digest[8:], "little")


def fill(table: Floats, rows: Sequence[int], keys: Sequence[tuple[int, int]], count: int) -> None:
    """Write the first ``count`` uniforms in [0, 1) of each key into its row of a table."""
    fill_uniforms(
        table,
        np.array(rows, dtype=np.int64),
        np.array(keys, dtype=np.uint64).reshape(-1, 2),
        count,
    )


def uniforms(count: int, seed: int, *key: object) -> Floats:
    """``count`` uniforms of one key, strictly inside (0, 1) so that every quantile is finite."""
    table = np.empty((1, count))
    fill(table, [0], [philox_key(seed, *key)], count)
    result: Floats = np.maximum(table[0], _TINY)
    return result


def lognormals(u: Floats, mean: float, cv: float) -> Floats:
    """Lognormals of a given mean and coefficient of variation, by inverse CDF."""
    if cv == 0.0:
        return np.full(u.shape, mean)
    variance = np.log1p(cv * cv)
    return np.asarray(
        np.exp(np.log(mean) - variance / 2.0 + np.sqrt(variance) * ndtri(u)), dtype=np.float64
    )


def whole_seconds(values: Floats) -> NDArray[np.int32]:
    """Durations rounded to the nearest second, at least 1."""
    return np.maximum(np.rint(values), 1.0).astype(np.int32)


@cached(64_000_000, lambda table: table.nbytes)
def host_seconds(
    seed: int, what: HostWork, ordinals: int, hosts: int, mean: float, cv: float, more: int = 0
) -> NDArray[np.int32]:
    """Times of starts or creations in seconds, shape (ordinals, hosts): row k is every host's k-th.

    ``more`` seconds are added to each. The array is read-only because it is shared between runs.
    """
    if mean == 0.0:
        table = np.full((ordinals, hosts), more, dtype=np.int32)
    else:
        table = np.empty((ordinals, hosts), dtype=np.int32)
        for ordinal in range(ordinals):
            u = uniforms(hosts, seed, what, ordinal)
            table[ordinal] = whole_seconds(lognormals(u, mean, cv)) + more
    table.flags.writeable = False
    return table


def host_failures(seed: int, ordinals: int, hosts: int, share: float) -> NDArray[np.bool_]:
    """Which starts fail, shape (ordinals, hosts), each with the chance ``share``."""
    what: HostWork = "host start fails"
    return np.array([uniforms(hosts, seed, what, ordinal) < share for ordinal in range(ordinals)])
