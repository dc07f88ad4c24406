"""Classes of users: what a session draws where nobody has measured it.

The values are our own assumptions for office work, to be replaced by a measurement. On each vCPU of
a host that may bear 85 % some five light users, two normal ones or one heavy user work at once.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final, Literal, TypeAlias

from idle_harbor.core.plan.profiles import Cpu, Logon, Memory, Profile

UserClass: TypeAlias = Literal["light", "normal", "heavy"]


@dataclass(frozen=True, slots=True)
class Draws:
    """What a session of a class draws."""

    cpu: Cpu
    memory_gib: Memory
    logon: Logon


CLASSES: Final[dict[UserClass, Draws]] = {
    "light": Draws(
        Cpu(mean=0.16, sd=0.13, idle=0.02),
        Memory(active=1.1, idle=1.0, disconnected=0.9),
        Logon(seconds=20.0, vcpu=0.8),
    ),
    "normal": Draws(Cpu(), Memory(), Logon()),
    "heavy": Draws(
        Cpu(mean=0.85, sd=0.55, idle=0.05),
        Memory(active=4.2, idle=3.8, disconnected=3.5),
        Logon(seconds=30.0, vcpu=1.6),
    ),
}


def as_class(profile: Profile, user: UserClass) -> Profile:
    """The profile with what a class draws; what was measured of it counts no more."""
    draws = CLASSES[user]
    return replace(
        profile,
        cpu=draws.cpu,
        memory_gib=draws.memory_gib,
        logon=draws.logon,
        measured=None,
    )


def class_of(profile: Profile) -> UserClass | None:
    """The class whose values a profile has; None where they are its own or measured."""
    if profile.measured is not None:
        return None
    has = Draws(profile.cpu, profile.memory_gib, profile.logon)
    return next((user for user, draws in CLASSES.items() if draws == has), None)
