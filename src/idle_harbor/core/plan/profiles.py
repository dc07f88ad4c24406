"""Workload profiles: what one session draws, and what its logon costs; GiB and vCPU."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from idle_harbor.core.plan.declare import (
    MEASURE,
    OURS,
    About,
    Name,
    Named,
)

Quality = Literal["lean", "standard", "fine"]


@dataclass(frozen=True, slots=True)
class Cpu:
    """CPU of a session."""

    mean: Annotated[
        float,
        About("CPU that one active session wants on average.", "vCPU", 0, 64, MEASURE, step=0.05),
    ] = 0.35
    sd: Annotated[
        float,
        About(
            "How much that differs from moment to moment (standard deviation).",
            "vCPU",
            0,
            64,
            MEASURE,
            step=0.05,
        ),
    ] = 0.25
    idle: Annotated[
        float,
        About("CPU of a session whose person has walked away.", "vCPU", 0, 64, MEASURE, step=0.01),
    ] = 0.03


@dataclass(frozen=True, slots=True)
class Memory:
    """Memory of a session by state."""

    active: Annotated[
        float, About("Memory of an active session.", "GiB", 0, 1024, MEASURE, step=0.1)
    ] = 1.8
    idle: Annotated[
        float, About("Memory of an idle session.", "GiB", 0, 1024, MEASURE, step=0.1)
    ] = 1.6
    disconnected: Annotated[
        float, About("Memory of a disconnected session.", "GiB", 0, 1024, MEASURE, step=0.1)
    ] = 1.5


@dataclass(frozen=True, slots=True)
class Logon:
    """What a logon costs."""

    seconds: Annotated[
        float,
        About("How long a logon takes when the host has CPU to spare.", "s", 0, 3600, MEASURE),
    ] = 22.0
    vcpu: Annotated[
        float, About("CPU that a logon in progress wants.", "vCPU", 0, 64, MEASURE, step=0.1)
    ] = 1.0


@dataclass(frozen=True, slots=True)
class Mbit:
    """Mbit/s of an active session for each megapixel, on average, by picture quality."""

    lean: Annotated[
        float,
        About(
            "Mean network of an active session for each megapixel, lean picture.",
            "Mbit/s",
            0,
            1000,
            MEASURE,
            step=0.1,
        ),
    ] = 0.03
    standard: Annotated[
        float,
        About(
            "Mean network of an active session for each megapixel, standard picture.",
            "Mbit/s",
            0,
            1000,
            MEASURE,
            step=0.1,
        ),
    ] = 0.05
    fine: Annotated[
        float,
        About(
            "Mean network of an active session for each megapixel, fine picture.",
            "Mbit/s",
            0,
            1000,
            MEASURE,
            step=0.1,
        ),
    ] = 0.2


@dataclass(frozen=True, slots=True)
class Display:
    """Screens of a session, and what showing them costs."""

    monitors: Annotated[int, About("How many monitors a session shows on.", "monitors", 1, 16)] = 1
    megapixels: Annotated[
        float, About("The resolution of each.", "megapixels", 0.3, 40, step=0.1)
    ] = 2.1
    quality: Annotated[
        Quality,
        About(
            "How good the picture is.",
            choices={
                "lean": "text is sharp, moving pictures are not",
                "standard": "good enough for office work",
                "fine": "for drawings and pictures, at the price of the line",
            },
        ),
    ] = "standard"
    mbit: Mbit = Mbit()
    busy_minute: Annotated[
        float,
        About(
            "How many times its mean the network of a session takes in its busiest minute.",
            "times",
            1,
            100,
            OURS,
            step=0.1,
        ),
    ] = 8.0
    vcpu_per_mbit: Annotated[
        float,
        About(
            "CPU of the host that showing the picture costs.",
            "vCPU per Mbit/s",
            0,
            10,
            MEASURE,
            step=0.01,
        ),
    ] = 0.0

    @property
    def network_mbit(self) -> float:
        """Mbit/s of one active session on average: what goes out and is billed."""
        mbit = self.mbit
        each = {"lean": mbit.lean, "standard": mbit.standard, "fine": mbit.fine}[self.quality]
        return self.monitors * self.megapixels * each

    @property
    def busy_mbit(self) -> float:
        """Mbit/s of one active session in its busiest minute: what a host's network must bear."""
        return self.network_mbit * self.busy_minute


@dataclass(frozen=True, slots=True)
class Measured:
    """What a profile was measured from, and how sure its means are."""

    sessions: Annotated[
        int,
        About("How many sessions the profile was measured from.", "sessions", 1, 10_000_000),
    ]
    cpu_error: Annotated[
        float, About("Standard error of the mean CPU.", "vCPU", 0, 64, MEASURE, step=0.1)
    ] = 0.0
    memory_error: Annotated[
        float,
        About(
            "Standard error of the mean memory of an active session.",
            "GiB",
            0,
            1024,
            MEASURE,
            step=0.1,
        ),
    ] = 0.0
    source: Annotated[Name, About("Where the samples came from.")] = "typed"


@dataclass(frozen=True, slots=True)
class Profile(Named):
    """A workload profile: what one session draws, and what its logon costs."""

    cpu: Cpu = Cpu()
    memory_gib: Memory = Memory()
    logon: Logon = Logon()
    disk_ops: Annotated[
        float,
        About(
            "Disk operations a second of an active session.", "operations/s", 0, 100_000, MEASURE
        ),
    ] = 0.0
    gpu_gib: Annotated[
        float,
        About("GPU memory of a session, whatever its state.", "GiB", 0, 1024, MEASURE, step=0.5),
    ] = 0.0
    display: Display = Display()
    measured: Measured | None = None
