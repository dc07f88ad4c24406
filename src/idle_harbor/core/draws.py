"""Random numbers keyed by what they describe (common random numbers).

One Philox stream (Salmon et al. 2011, "Parallel random numbers: as easy as 1, 2, 3") per key;
its k-th value belongs to person k or host k. So adding a person, a host or a setting leaves
every other draw as it was, and two plans can be compared pair by pair.
"""

from __future__ import annotations

import hashlib
from functools import lru_cache
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtr, ndtri

Floats: TypeAlias = NDArray[np.float64]

#: Starts are cut at this many standard deviations.
CUT = 3.0
_BELOW_CUT = float(ndtr(-CUT))
_START_TIME = "host start"


def stream(seed: int, *key: object) -> np.random.Generator:
    """The generator of one key; equal keys give equal streams, on any machine."""
    text = "\x1f".join([str(seed), *map(str, key)])
    digest = hashlib.blake2b(text.encode(), digest_size=16).digest()
    return np.random.Generator(np.random.Philox(key=int.from_bytes(digest, "little")))


def uniforms(count: int, seed: int, *key: object) -> Floats:
    """``count`` uniforms of one key, strictly inside (0, 1) so that every quantile is finite."""
    tiny = 2.0**-54
    return stream(seed, *key).random(count) + tiny


def cut_normals(u: Floats) -> Floats:
    """Standard normals conditioned on lying within ±3, by inverse CDF."""
    return np.asarray(ndtri(_BELOW_CUT + u * (1.0 - 2.0 * _BELOW_CUT)), dtype=np.float64)


def normals(u: Floats) -> Floats:
    """Standard normals by inverse CDF."""
    return np.asarray(ndtri(u), dtype=np.float64)


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


@lru_cache(maxsize=256)
def host_start_seconds(
    seed: int, ordinals: int, hosts: int, mean: float, cv: float
) -> NDArray[np.int32]:
    """Start times in seconds, shape (ordinals, hosts): row k is every host's k-th start.

    The array is read-only because it is shared between runs.
    """
    if mean == 0.0:
        table = np.zeros((ordinals, hosts), dtype=np.int32)
    else:
        table = np.empty((ordinals, hosts), dtype=np.int32)
        for ordinal in range(ordinals):
            u = uniforms(hosts, seed, _START_TIME, ordinal)
            table[ordinal] = whole_seconds(lognormals(u, mean, cv))
    table.flags.writeable = False
    return table
