"""A workload profile from samples of real sessions, with how sure its means are."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import sqrt
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Cpu, Display, Measured, Memory, Profile

Floats: TypeAlias = NDArray[np.float64]

#: States of a sample: a person at work, one who has walked away, one who has disconnected.
#: Digits of measured values that a plan keeps: far below what any sample is worth.
_DIGITS = 6
#: As many times the mean as a plan may say that the busiest minute takes.
_MOST_BUSY = 100.0
STATES = ("active", "idle", "disconnected")


@dataclass(frozen=True, slots=True)
class Samples:
    """Samples of sessions, an entry each: ``session`` numbers from 0, ``state`` indexes STATES,
    ``cpu`` in vCPU, ``memory`` in GiB; ``network`` in Mbit/s and the ``minute`` that it was taken
    in (any whole number for it), where it was measured."""

    session: NDArray[np.int64]
    state: NDArray[np.int64]
    cpu: Floats
    memory: Floats
    network: Floats | None = None
    minute: NDArray[np.int64] | None = None


def _means(samples: Samples, values: Floats, chosen: NDArray[np.bool_]) -> Floats:
    """The mean of each session that has a chosen sample."""
    sessions = samples.session[chosen]
    counts = np.bincount(sessions)
    sums = np.bincount(sessions, weights=values[chosen])
    seen = counts > 0
    return np.asarray(sums[seen] / counts[seen], dtype=np.float64)


def _error(means: Floats) -> float:
    """The standard error of a mean of session means: s / √n, sessions being independent."""
    return float(means.std(ddof=1)) / sqrt(len(means)) if len(means) > 1 else 0.0


def _busiest_minutes(samples: Samples, network: Floats, chosen: NDArray[np.bool_]) -> Floats:
    """The mean of each session's busiest minute: of the minute whose samples' mean is highest."""
    assert samples.minute is not None
    _, at = np.unique(
        np.stack((samples.session[chosen], samples.minute[chosen])), axis=1, return_inverse=True
    )
    at = at.reshape(-1)
    means = np.bincount(at, weights=network[chosen]) / np.bincount(at)
    highest = np.zeros(int(samples.session.max()) + 1)
    np.maximum.at(highest, samples.session[chosen], means[at])
    return highest[np.unique(samples.session[chosen])]


def _display(like: Display, samples: Samples, active: NDArray[np.bool_]) -> Display:
    """The display with its network as measured: for each megapixel, mean and busiest minute."""
    if samples.network is None:
        return like
    mean = float(_means(samples, samples.network, active).mean())
    each = round(mean / (like.monitors * like.megapixels), _DIGITS)
    busy = float(_busiest_minutes(samples, samples.network, active).mean())
    factor = min(max(busy / mean, 1.0), _MOST_BUSY) if mean > 0.0 else 1.0
    mbit = replace(like.mbit, **{like.quality: each})
    return replace(like, mbit=mbit, busy_minute=round(factor, _DIGITS))


def profile_from_samples(like: Profile, samples: Samples, source: str) -> Profile:
    """The profile ``like`` with CPU, memory and their errors as measured, and the network of its
    display where that was.

    Means are over sessions, each session counting once however often it was sampled, since the
    samples of one session are alike (cluster sampling: Cochran 1977, sec. 9.2); the spread of CPU
    is that of single samples about the mean, between sessions and within. States without samples
    keep what the profile had. Raises PlanError without a sample of an active session.
    """
    active = samples.state == STATES.index("active")
    if not active.any():
        raise PlanError(
            [
                Fault(
                    "",
                    "no sample is of an active session",
                    "bring samples with the state active, or without a state",
                )
            ]
        )
    cpu = _means(samples, samples.cpu, active)
    memory = _means(samples, samples.memory, active)
    counts = np.bincount(samples.session[active])
    weights = 1.0 / counts[samples.session[active]] / len(cpu)
    mean = float(cpu.mean())
    spread = sqrt(float(np.sum(weights * (samples.cpu[active] - mean) ** 2)))
    idle = samples.state == STATES.index("idle")
    gone = samples.state == STATES.index("disconnected")

    def mean_of(values: Floats, chosen: NDArray[np.bool_], otherwise: float) -> float:
        return float(_means(samples, values, chosen).mean()) if chosen.any() else otherwise

    def worth(*values: float) -> list[float]:
        return [round(value, _DIGITS) for value in values]

    cpu_error, memory_error = worth(_error(cpu), _error(memory))
    memory_idle = mean_of(samples.memory, idle, like.memory_gib.idle)
    memory_gone = mean_of(samples.memory, gone, like.memory_gib.disconnected)
    return replace(
        like,
        cpu=Cpu(*worth(mean, spread, mean_of(samples.cpu, idle, like.cpu.idle))),
        memory_gib=Memory(*worth(float(memory.mean()), memory_idle, memory_gone)),
        display=_display(like.display, samples, active),
        measured=Measured(len(cpu), cpu_error, memory_error, source),
    )
