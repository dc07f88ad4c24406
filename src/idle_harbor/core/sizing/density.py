"""How many sessions a host bears until each resource binds, in closed form."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import floor, inf, sqrt
from typing import Literal, TypeAlias

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from idle_harbor.core.base.units import MICRO, micro, micro_bound
from idle_harbor.core.plan import Pool, Profile, Size

Resource = Literal["cpu", "memory", "gpu", "disk", "network"]
RESOURCES: tuple[Resource, ...] = ("cpu", "memory", "gpu", "disk", "network")

#: Resources as they are said.
RESOURCE_NAMES: dict[Resource, str] = {
    "cpu": "CPU",
    "memory": "memory",
    "gpu": "GPU memory",
    "disk": "disk",
    "network": "network",
}

Floats: TypeAlias = NDArray[np.float64]

#: Guards quotients that are whole numbers in exact arithmetic.
_HAIR = 1e-9
#: A resource that so many sessions do not use up never binds.
_COUNTLESS = 1_000_000
#: Errors of measured means are taken at two standard errors.
_ERRORS = 2.0


@dataclass(frozen=True, slots=True)
class Mix:
    """The draw of an average session: vCPU, GiB, operations/s, Mbit/s, GiB of GPU memory.

    ``variance`` is that of an active session's CPU, between profiles included; the errors are
    standard errors of the means.
    """

    cpu: float
    variance: float
    cpu_idle: float
    memory: float
    memory_idle: float
    gpu: float
    disk: float
    network: float
    cpu_error: float
    memory_error: float


@dataclass(frozen=True, slots=True)
class Bearing:
    """What a host may bear: load limit, tolerance of CPU beyond it, what it draws without
    sessions, and the share of its sessions that are active at once."""

    load_limit: float
    tolerance: float
    base_vcpu: float
    base_gib: float
    active_share: float = 1.0

    @property
    def z(self) -> float:
        """Standard deviations of CPU to allow for."""
        return float(ndtri(1.0 - self.tolerance))


@dataclass(frozen=True, slots=True)
class Density:
    """Sessions until each resource binds, None where it never does; ``binding`` binds first.

    ``low`` and ``high`` are the sessions at two standard errors of the measured means, ``credits``
    those while a burstable size has credits. ``sessions`` is 0 where not even one fits.
    """

    by_resource: dict[Resource, int | None]
    sessions: int
    binding: Resource
    low: int
    high: int
    credits: int | None


def bearing_of(pool: Pool, active_share: float = 1.0) -> Bearing:
    """What a host of a pool may bear; the pool is one as its image has tuned it."""
    return Bearing(
        pool.load.limit, pool.load.tolerance, pool.load.base_vcpu, pool.load.base_gib, active_share
    )


def mix_of(weighted: Sequence[tuple[Profile, float]]) -> Mix:
    """The weighted mean of profiles; the variance of CPU includes that between them.

    Raises ValueError where no weight is positive.
    """
    total = sum(weight for _, weight in weighted)
    if total <= 0.0:
        raise ValueError(f"weights add up to {total:g}; one at least has to be above 0")
    shares = [(profile, weight / total) for profile, weight in weighted]

    def mean(values: Sequence[float]) -> float:
        return sum(value * share for value, (_, share) in zip(values, shares, strict=True))

    cpu = mean([p.cpu.mean for p, _ in shares])
    errors = [(p.measured, share) for p, share in shares if p.measured is not None]
    return Mix(
        cpu=cpu,
        variance=mean([p.cpu.sd**2 + (p.cpu.mean - cpu) ** 2 for p, _ in shares]),
        cpu_idle=mean([p.cpu.idle for p, _ in shares]),
        memory=mean([p.memory_gib.active for p, _ in shares]),
        memory_idle=mean([p.memory_gib.idle for p, _ in shares]),
        gpu=mean([p.gpu_gib for p, _ in shares]),
        disk=mean([p.disk_ops for p, _ in shares]),
        network=mean([p.display.busy_mbit for p, _ in shares]),
        cpu_error=sqrt(sum((m.cpu_error * share) ** 2 for m, share in errors)),
        memory_error=sqrt(sum((m.memory_error * share) ** 2 for m, share in errors)),
    )


def _room(size: Size, resource: Resource) -> float | None:
    """What a size has of a resource, None where that is not known to bind."""
    if resource == "cpu":
        return size.vcpu
    if resource == "memory":
        return size.memory_gib
    if resource == "gpu":
        return size.gpu_gib
    return size.disk_ops if resource == "disk" else size.network_mbit


def wanted(mix: Mix, bearing: Bearing, resource: Resource, sessions: Floats) -> Floats:
    """What so many sessions on one host want of a resource, in its unit, with the allowance for
    CPU's spread: base + n (α μ + (1 − α) ι) + z √(α n σ²)."""
    active = bearing.active_share * sessions
    idle = sessions - active
    if resource == "cpu":
        spread = bearing.z * np.sqrt(active * mix.variance)
        return bearing.base_vcpu + active * mix.cpu + idle * mix.cpu_idle + spread
    if resource == "memory":
        return bearing.base_gib + active * mix.memory + idle * mix.memory_idle
    if resource == "gpu":
        return sessions * mix.gpu
    return active * (mix.disk if resource == "disk" else mix.network)


def used_share(
    mix: Mix, size: Size, bearing: Bearing, resource: Resource, sessions: Floats
) -> Floats | None:
    """The share of what the host may bear (load limit × size) that sessions want of a resource.

    Of CPU on a burstable size: for good, so the mean may not pass its baseline either.
    None where the resource is not known to bind; infinite where the size has none of it.
    """
    room = _room(size, resource)
    want = wanted(mix, bearing, resource, sessions)
    if room is None or (resource == "gpu" and mix.gpu == 0.0):
        return None
    if room == 0.0:
        return np.where(want > 0.0, np.inf, 0.0)
    used = want / (bearing.load_limit * room)
    if resource == "cpu" and size.burst is not None:
        mean = wanted(replace(mix, variance=0.0), bearing, resource, sessions)
        used = np.maximum(used, mean / (size.vcpu * size.burst.baseline))
    return used


def _closed_form(mix: Mix, bearing: Bearing, left: float, z: float) -> float:
    """The n at which n c + z s √n is what is left beside the base: a quadratic in √n."""
    share = bearing.active_share
    slope = share * mix.cpu + (1.0 - share) * mix.cpu_idle
    spread = z * sqrt(share * mix.variance)
    if left <= 0.0:
        return 0.0
    if slope <= 0.0:
        return (left / spread) ** 2 if spread > 0.0 else inf
    # The form that does not cancel where the slope is small.
    root = 2.0 * left / (spread + sqrt(spread * spread + 4.0 * slope * left))
    return root * root


def _cpu_fits(mix: Mix, bearing: Bearing, size: Size, sessions: int, baseline: float) -> bool:
    """Whether so many sessions stay unstrained by CPU: the very comparison of a simulated host.

    One that has spent its credits is strained where its mean passes the baseline; below that it
    earns more, and may use all its CPU.
    """
    active = bearing.active_share * sessions
    idle = sessions - active
    wanted_ = round(micro(bearing.base_vcpu) + active * micro(mix.cpu) + idle * micro(mix.cpu_idle))
    if wanted_ > micro_bound(1.0, size.vcpu, baseline):
        return False
    slack = micro_bound(bearing.load_limit, size.vcpu) - wanted_
    variance = round(active * mix.variance * MICRO * MICRO)
    return slack >= 0.0 and slack * slack >= bearing.z**2 * variance


def _cpu_sessions(mix: Mix, bearing: Bearing, size: Size, baseline: float) -> int | None:
    if _cpu_fits(mix, bearing, size, _COUNTLESS, baseline):
        return None
    base = bearing.base_vcpu
    spread = _closed_form(mix, bearing, bearing.load_limit * size.vcpu - base, bearing.z)
    mean = _closed_form(mix, bearing, baseline * size.vcpu - base, 0.0)
    found = floor(min(spread, mean, _COUNTLESS))
    # Where the bound is met exactly, rounding may be a session off on either side.
    while _cpu_fits(mix, bearing, size, found + 1, baseline):
        found += 1
    while found > 0 and not _cpu_fits(mix, bearing, size, found, baseline):
        found -= 1
    return found


def _sessions(mix: Mix, size: Size, bearing: Bearing, resource: Resource) -> int | None:
    """The sessions until a resource binds, in whole millionths as a simulated host counts them."""
    if resource == "cpu":
        baseline = 1.0 if size.burst is None else size.burst.baseline
        return _cpu_sessions(mix, bearing, size, baseline)
    room = _room(size, resource)
    if room is None:
        return None
    share = bearing.active_share
    if resource == "memory":
        each = share * micro(mix.memory) + (1.0 - share) * micro(mix.memory_idle)
    elif resource == "gpu":
        each = float(micro(mix.gpu))
    else:
        each = share * micro(mix.disk if resource == "disk" else mix.network)
    base = micro(bearing.base_gib) if resource == "memory" else 0
    left = micro_bound(bearing.load_limit, room) - base
    if each * _COUNTLESS <= left:
        return None
    return max(floor(left / each + _HAIR), 0) if each > 0.0 else 0


def _least(mix: Mix, size: Size, bearing: Bearing) -> tuple[dict[Resource, int | None], Resource]:
    found = {resource: _sessions(mix, size, bearing, resource) for resource in RESOURCES}
    known = [(n, RESOURCES.index(r)) for r, n in found.items() if n is not None]
    return found, RESOURCES[min(known)[1]] if known else "cpu"


#: Sessions on a host where nothing binds: the bound of a session limit.
UNBOUND = 1_000


def density_of(mix: Mix, size: Size, bearing: Bearing) -> Density:
    """The sessions that one host bears, and what binds first."""
    found, binding = _least(mix, size, bearing)

    def sessions(shift: float) -> int:
        moved = replace(
            mix,
            cpu=max(mix.cpu + shift * mix.cpu_error, 0.0),
            memory=max(mix.memory + shift * mix.memory_error, 0.0),
        )
        limits, first = _least(moved, size, bearing)
        least = limits[first]
        return UNBOUND if least is None else min(least, UNBOUND)

    with_credits = None
    if size.burst is not None:
        with_credits = _cpu_sessions(mix, bearing, size, 1.0)
    return Density(
        found, sessions(0.0), binding, sessions(_ERRORS), sessions(-_ERRORS), with_credits
    )
