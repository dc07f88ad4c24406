"""A workload profile from samples of real sessions, with how sure its means are."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import sqrt
from typing import TypeAlias

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.plan import Cpu, Measured, Memory, Profile

Floats: TypeAlias = NDArray[np.float64]

#: States of a sample: a person at work, one who has walked away, one who has disconnected.
#: Digits of measured values that a plan keeps: far below what any sample is worth.
_DIGITS = 6
STATES = ("active", "idle", "disconnected")


@dataclass(frozen=True, slots=True)
class Samples:
    """Samples of sessions, an entry each: ``session`` numbers from 0, ``state`` indexes STATES,
    ``cpu`` in vCPU, ``memory`` in GiB."""

    session: NDArray[np.int64]
    state: NDArray[np.int64]
    cpu: Floats
    memory: Floats


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


def profile_from_samples(like: Profile, samples: Samples, source: str) -> Profile:
    """The profile ``like`` with CPU, memory and their errors as measured.

    Means are over sessions, each session counting once however often it was sampled, since the
    samples of one session are alike (cluster sampling: Cochran 1977, sec. 9.2); the spread of CPU
    is that of single samples about the mean, between sessions and within. States without samples
    keep what the profile had. Raises PlanError without a sample of an active session.
    """
    active = samples.state == STATES.index("active")
    if not active.any():
        raise PlanError([Fault("", "no sample is of an active session",
                               "bring samples with the state active, or without a state")]
                        )  # fmt: skip
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
        measured=Measured(len(cpu), cpu_error, memory_error, source),
    )
