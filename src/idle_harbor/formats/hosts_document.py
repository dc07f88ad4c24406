"""The hosts of a plan document: sizes, disks, images, places, prices, pools."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator
from pydantic import Field as PydanticField

from idle_harbor.formats.document_base import (
    Day,
    Id,
    Money,
    Name,
    Part,
    Text,
    described,
    seconds,
    timeout,
)


class BurstPart(Part):
    """A size that may use all its CPU only while it has credits."""

    baseline: float = described("sizes.burst.baseline")
    first: float = described("sizes.burst.first")
    most: float = described("sizes.burst.most")


class FreePart(Part):
    """A size whose vCPU and memory are chosen within bounds."""

    vcpu_low: float = described("sizes.free.vcpu_low")
    vcpu_high: float = described("sizes.free.vcpu_high")
    vcpu_step: float = described("sizes.free.vcpu_step")
    gib_per_vcpu_low: float = described("sizes.free.gib_per_vcpu_low")
    gib_per_vcpu_high: float = described("sizes.free.gib_per_vcpu_high")
    per_vcpu: Money = described("sizes.free.per_vcpu")
    per_gib: Money = described("sizes.free.per_gib")


class MachinePart(Part):
    """Hardware of one's own that holds hosts of this size."""

    hosts: int = described("sizes.machine.hosts")
    hourly: Money = described("sizes.machine.hourly")


class CommittedPart(Part):
    """The price of an hour when years of it are promised."""

    years: int = described("sizes.committed.years")
    hourly: Money = described("sizes.committed.hourly")


def _by_years(terms: list[CommittedPart]) -> list[CommittedPart]:
    """Terms have no order of their own: the shorter comes first."""
    return sorted(terms, key=lambda term: term.years)


Terms = Annotated[list[CommittedPart], AfterValidator(_by_years), PydanticField(max_length=10)]


class SizePart(Part):
    """A host size, its limits and its price."""

    id: Id
    vcpu: float = described("sizes.vcpu")
    memory_gib: float = described("sizes.memory_gib")
    gpu_gib: float = described("sizes.gpu_gib")
    disk_ops: float | None = described("sizes.disk_ops")
    network_mbit: float | None = described("sizes.network_mbit")
    cache_gib: float = described("sizes.cache_gib")
    quota: float | None = described("sizes.quota")
    hourly: Money = described("sizes.hourly")
    source: Text = described("sizes.source")
    billing_step_seconds: int = described("sizes.billing_step_seconds")
    billing_minimum_seconds: int = described("sizes.billing_minimum_seconds")
    burst: BurstPart | None = None
    free: FreePart | None = None
    machine: MachinePart | None = None
    committed: Terms = PydanticField(default_factory=list)


class DiskPart(Part):
    """A host disk and its prices."""

    id: Id
    gib: float = described("disks.gib")
    monthly_on: Money = described("disks.monthly_on")
    monthly_off: Money = described("disks.monthly_off")
    source: Text = described("disks.source")


class TuningPart(Part):
    """What an image's tuning leaves of CPU and of a host's own memory."""

    cpu: float = described("images.tuning.cpu")
    memory: float = described("images.tuning.memory")


class ImagePart(Part):
    """A host image with the inventory of its apps."""

    id: Id
    apps: list[Name] = PydanticField(default_factory=list, max_length=2000)
    gib: float = described("images.gib")
    system: Literal["many sessions", "one session"] = "many sessions"
    display: list[Name] = described("images.display")
    tuning: TuningPart = PydanticField(default_factory=TuningPart)


class OfferPart(Part):
    """A size that a place has."""

    size: Id
    zones: list[Name] = described("places.offers.zones")
    hourly: Money | None = described("places.offers.hourly")


class LinePart(Part):
    """The line between a site and a place."""

    site: Id
    round_trip_ms: float = described("places.lines.round_trip_ms")


class PlacePart(Part):
    """Where hosts can be."""

    id: Id
    area: Name = described("places.area")
    zones: list[Name] = described("places.zones")
    offers: list[OfferPart] = PydanticField(default_factory=list, max_length=500)
    lines: list[LinePart] = PydanticField(default_factory=list, max_length=500)


class LicencePart(Part):
    """Software paid by the month."""

    id: Id
    monthly: Money = described("prices.licences.monthly")
    per: Literal["named person", "peak session", "active person"] = "named person"
    pools: list[Id] = described("prices.licences.pools")


class PricesPart(Part):
    """What a month holds besides hosts and disks."""

    egress_gib: Money = described("prices.egress_gib")
    address_month: Money = described("prices.address_month")
    credits: Money = described("prices.credits")
    licences: list[LicencePart] = PydanticField(default_factory=list, max_length=100)
    source: Text = described("prices.source")


class HostsPart(Part):
    """How many hosts a pool has, and how they come and go."""

    standing: int = described("pools.hosts.standing")
    surge: int = described("pools.hosts.surge")
    throwaway: bool = described("pools.hosts.throwaway")


class CreatePart(Part):
    """How long a host takes to be created."""

    mean_seconds: float = described("pools.create.mean_seconds")
    cv: float = described("pools.create.cv")
    script_seconds: int = described("pools.create.script_seconds")


class HostStartPart(Part):
    """How long a host takes to start, and from which point of it the host counts."""

    mean_seconds: float = described("pools.start.mean_seconds")
    cv: float = described("pools.start.cv")
    booted_share: float = described("pools.start.booted_share")
    settle_seconds: int = described("pools.start.settle_seconds")
    counts_from: Literal["powered", "booted", "registered", "settled"] = "powered"
    parallel: int | None = described("pools.start.parallel")


class LoadPart(Part):
    """When work on a host is strained."""

    limit: float = described("pools.load.limit")
    tolerance: float = described("pools.load.tolerance")
    base_vcpu: float = described("pools.load.base_vcpu")
    base_gib: float = described("pools.load.base_gib")


class AssignedPart(Part):
    """A person and their host in a dedicated pool."""

    group: Id
    person: int = described("pools.assigned.person")
    host: int = described("pools.assigned.host")


class AttachedPart(Part):
    """An app that is attached at logon."""

    app: Name
    seconds: float = described("pools.attached.seconds")


class PoolPart(Part):
    """A pool of session hosts: shared, lent to one person at a time, or dedicated to one each."""

    id: Id
    kind: Literal["shared", "lent", "dedicated"] = "shared"
    assign: Literal["at first logon", "by list"] = "at first logon"
    assigned: list[AssignedPart] = PydanticField(default_factory=list, max_length=10_000)
    time_zone: Text = described("pools.time_zone")
    place: Id | None = described("pools.place")
    zones: list[Name] = described("pools.zones")
    size: Id
    disk: Id | None = None
    hosts: HostsPart = PydanticField(default_factory=HostsPart)
    create: CreatePart = PydanticField(default_factory=CreatePart)
    session_limit: int = described("pools.session_limit")
    schedule: Id
    start: HostStartPart = PydanticField(default_factory=HostStartPart)
    stop_seconds: int = described("pools.stop_seconds")
    reset_seconds: int = described("pools.reset_seconds")
    patience_seconds: seconds("pools.patience_seconds") = timeout(  # type: ignore[valid-type]
        "pools.patience_seconds"
    )
    idle_timeout: seconds("pools.idle_timeout") = timeout(  # type: ignore[valid-type]
        "pools.idle_timeout"
    )
    disconnected_timeout: seconds("pools.disconnected_timeout") = timeout(  # type: ignore[valid-type]
        "pools.disconnected_timeout"
    )
    reconnect_seconds: int = described("pools.reconnect_seconds")
    load: LoadPart = PydanticField(default_factory=LoadPart)
    image: Id | None = None
    attached: list[AttachedPart] = PydanticField(default_factory=list, max_length=200)
    display: Name | None = described("pools.display")
    desktop_and_apps: Literal["one session", "two sessions"] = "one session"
    first_date: Day | None = described("pools.first_date")
    last_date: Day | None = described("pools.last_date")
