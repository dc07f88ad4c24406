"""From the hosts of a plan document to core values: profiles, sizes, images, places, pools."""

from __future__ import annotations

from typing import Any

from idle_harbor.core import plan as core
from idle_harbor.formats import hosts_document as hosts
from idle_harbor.formats.people_document import DisplayPart, ProfilePart


def _display(part: DisplayPart) -> core.Display:
    return core.Display(
        monitors=part.monitors,
        megapixels=part.megapixels,
        quality=part.quality,
        mbit=(part.mbit.lean, part.mbit.standard, part.mbit.fine),
        vcpu_per_mbit=part.vcpu_per_mbit,
    )


def profile_from(part: ProfilePart) -> core.Profile:
    """A workload profile."""
    return core.Profile(
        id=part.id,
        cpu_mean=part.cpu.mean,
        cpu_sd=part.cpu.sd,
        cpu_idle=part.cpu.idle,
        memory_active=part.memory_gib.active,
        memory_idle=part.memory_gib.idle,
        memory_disconnected=part.memory_gib.disconnected,
        logon_seconds=part.logon.seconds,
        logon_vcpu=part.logon.vcpu,
        disk_ops=part.disk_ops,
        gpu_gib=part.gpu_gib,
        display=_display(part.display),
        measured=None if part.measured is None else core.Measured(**dict(part.measured)),
    )


def size_from(part: hosts.SizePart) -> core.Size:
    """A host size."""
    values = dict(part)
    values["burst"] = None if part.burst is None else core.Burst(**dict(part.burst))
    values["free"] = None if part.free is None else core.Free(**dict(part.free))
    values["machine"] = None if part.machine is None else core.Machine(**dict(part.machine))
    values["committed"] = tuple(core.Committed(c.years, c.hourly) for c in part.committed)
    return core.Size(**values)


def image_from(part: hosts.ImagePart) -> core.Image:
    """A host image."""
    return core.Image(
        id=part.id,
        apps=tuple(part.apps),
        gib=part.gib,
        system=part.system,
        display=tuple(part.display),
        tuning_cpu=part.tuning.cpu,
        tuning_memory=part.tuning.memory,
    )


def place_from(part: hosts.PlacePart) -> core.Place:
    """A place with what it offers and the lines to it."""
    return core.Place(
        id=part.id,
        area=part.area,
        zones=tuple(part.zones),
        offers=tuple(core.Offer(o.size, tuple(o.zones), o.hourly) for o in part.offers),
        lines=tuple(core.Line(each.site, each.round_trip_ms) for each in part.lines),
    )


def prices_from(part: hosts.PricesPart) -> core.Prices:
    """What a month holds besides hosts and disks."""
    return core.Prices(
        egress_gib=part.egress_gib,
        address_month=part.address_month,
        credits=part.credits,
        licences=tuple(
            core.Licence(each.id, each.monthly, each.per, tuple(each.pools))
            for each in part.licences
        ),
        source=part.source,
    )


def _timeout(value: Any) -> int | None:
    return None if value == "never" else int(value)


def pool_from(part: hosts.PoolPart) -> core.Pool:
    """A pool."""
    return core.Pool(
        id=part.id,
        time_zone=part.time_zone,
        size=part.size,
        disk=part.disk,
        standing=part.hosts.standing,
        session_limit=part.session_limit,
        schedule=part.schedule,
        start_mean_seconds=part.start.mean_seconds,
        start_cv=part.start.cv,
        stop_seconds=part.stop_seconds,
        patience_seconds=_timeout(part.patience_seconds),
        idle_timeout=_timeout(part.idle_timeout),
        disconnected_timeout=_timeout(part.disconnected_timeout),
        reconnect_seconds=part.reconnect_seconds,
        load_limit=part.load.limit,
        load_tolerance=part.load.tolerance,
        base_vcpu=part.load.base_vcpu,
        base_gib=part.load.base_gib,
        image=part.image,
        desktop_and_apps=part.desktop_and_apps,
        kind=part.kind,
        assign=part.assign,
        assigned=tuple(core.Assigned(**dict(each)) for each in part.assigned),
        surge=part.hosts.surge,
        throwaway=part.hosts.throwaway,
        place=part.place,
        zones=tuple(part.zones),
        reset_seconds=part.reset_seconds,
        counts_from=part.start.counts_from,
        booted_share=part.start.booted_share,
        settle_seconds=part.start.settle_seconds,
        parallel_starts=part.start.parallel,
        create_mean_seconds=part.create.mean_seconds,
        create_cv=part.create.cv,
        script_seconds=part.create.script_seconds,
        attached=tuple(core.Attached(each.app, each.seconds) for each in part.attached),
        display=part.display,
        first_date=part.first_date,
        last_date=part.last_date,
    )
