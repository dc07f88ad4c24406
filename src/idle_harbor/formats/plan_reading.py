"""From plan documents (JSON, or values read from JSON) to checked core plans, with clear faults."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError
from pydantic_core import ErrorDetails

from idle_harbor.core import plan as core
from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.fields import BY_PATH
from idle_harbor.core.plan_rules import faults_of
from idle_harbor.formats import plan_document as doc

#: A plan of this size is already far beyond any that a person could have written.
MOST_BYTES = 8_000_000

# Tags of unions appear in the places that Pydantic names; the field table knows those of demand.
_DEMAND_TAGS = ("headcount", "drop-in")
_INNER_TAGS = ("[key]", "normal", "histogram", "dates", "month-workdays")


def parse_plan(text: bytes | str) -> doc.PlanDocument:
    """A document from JSON text; raises PlanError naming the line where it is not JSON."""
    if len(text) > MOST_BYTES:
        raise PlanError(
            [Fault("", f"the document is {len(text):,} bytes long",
                   f"keep plans below {MOST_BYTES:,} bytes")]
        )  # fmt: skip
    try:
        value = json.loads(text.decode("utf-8-sig") if isinstance(text, bytes) else text)
    except json.JSONDecodeError as error:
        raise PlanError(
            [Fault("", f"this is not JSON: {error.msg} in line {error.lineno}, "
                   f"column {error.colno}", "mend the text there")]
        ) from error  # fmt: skip
    except (UnicodeDecodeError, RecursionError) as error:
        raise PlanError(
            [Fault("", "this is not JSON in UTF-8", "save the file as UTF-8 text")]
        ) from error
    return document_of(value)


def document_of(value: object) -> doc.PlanDocument:
    """A document from values; raises PlanError with one fault per field that cannot be."""
    if not isinstance(value, Mapping):
        raise PlanError([Fault("", "a plan is a JSON object", "start it with '{'")])
    if value.get("format", doc.FORMAT) != doc.FORMAT:
        raise PlanError(
            [Fault("/format", f"format {value.get('format')!r} is not known here",
                   f"save the plan in format {doc.FORMAT}")]
        )  # fmt: skip
    try:
        return doc.PlanDocument.model_validate(value)
    except ValidationError as error:
        raise PlanError([fault_from(detail) for detail in error.errors()]) from error


def fault_from(detail: ErrorDetails) -> Fault:
    """A validation error in our own words, with the value, the bound and the remedy."""
    where = [part for part in detail["loc"] if not _is_inner(part)]
    parts = [part for part in where if part not in _DEMAND_TAGS]
    names = [str(part) for part in where if not isinstance(part, int)]
    pointer = "".join(f"/{str(part).replace('~', '~0').replace('/', '~1')}" for part in parts)
    spec = BY_PATH.get(".".join(names))
    label = (names[-1] if names else "the plan").replace("_", " ")
    shown = _shown(detail.get("input"))
    kind, context = detail["type"], detail.get("ctx", {})
    if kind == "missing":
        unit = f" ({spec.unit})" if spec and spec.unit else ""
        return Fault(pointer, f"{label} is missing", f"add {label}{unit}")
    if kind == "extra_forbidden":
        return Fault(pointer, f"'{label}' is not a field here", "remove it, or mend its name")
    if spec is not None and spec.low is not None and spec.high is not None:
        unit = f" {spec.unit}" if spec.unit else ""
        return Fault(
            pointer,
            f"{label} is {shown}",
            f"give a number from {spec.low:g} to {spec.high:,g}{unit}".replace(",g", ""),
        )
    if "pattern" in context:
        return Fault(pointer, f"{label} is {shown}", _pattern_remedy(str(context["pattern"])))
    if "expected" in context:
        return Fault(pointer, f"{label} is {shown}", f"use {context['expected']}")
    return Fault(pointer, f"{label} is {shown}", detail["msg"].removeprefix("Value error, "))


def _is_inner(part: int | str) -> bool:
    """Whether a part of a location names a choice inside a field and not a field."""
    return isinstance(part, str) and (
        part in _INNER_TAGS or "constrained" in part or "literal" in part
    )


def _shown(value: object) -> str:
    text = json.dumps(value, default=str)
    return text if len(text) <= 60 else text[:57] + "…"


def _pattern_remedy(pattern: str) -> str:
    if ":" in pattern:
        return "give a clock time from 00:00 to 23:59"
    if "A-Z" in pattern:
        return "give three capital letters, such as EUR"
    return "use small letters, digits and hyphens, at most 63 of them"


def _clock(text: str) -> int:
    return int(text[:2]) * 3600 + int(text[3:]) * 60


def _leaving(part: doc.LeavingPart) -> core.Leaving:
    return core.Leaving(part.sign_off, part.disconnect, part.walk_away)


def _start(part: doc.StartPart | doc.ObservedStartPart) -> core.Spread:
    if isinstance(part, doc.StartPart):
        return core.Normal(float(_clock(part.mean)), 60.0 * part.sd_minutes)
    return core.Histogram(_clock(part.from_), 60 * part.step_minutes, tuple(part.weights))


def _length(part: doc.LengthPart | doc.ObservedLengthPart) -> core.Spread:
    if isinstance(part, doc.LengthPart):
        return core.Normal(60.0 * part.mean_minutes, 60.0 * part.sd_minutes)
    return core.Histogram(60 * part.from_minutes, 60 * part.step_minutes, tuple(part.weights))


def _break(part: doc.BreakPart) -> core.Break:
    after = part.after_minutes
    return core.Break(
        probability=part.probability,
        at=_clock(part.at) if part.at is not None and after is None else None,
        after=None if after is None else round(60 * after),
        sd_minutes=part.sd_minutes,
        mean_minutes=part.mean_minutes,
        length_sd_minutes=part.length_sd_minutes,
        leaving=_leaving(part.leaving),
    )


def _pattern(part: doc.PatternPart) -> core.Pattern:
    return core.Pattern(
        id=part.id,
        share=part.share,
        attendance=tuple(part.attendance.get(day) for day in core.WEEKDAYS),
        start=_start(part.start),
        length=_length(part.length),
        breaks=tuple(_break(pause) for pause in part.breaks),
        leaving=_leaving(part.leaving),
    )


def _rotation(part: doc.RotationPart | None) -> core.Rotation | None:
    return None if part is None else core.Rotation(part.every_days, tuple(part.order), part.since)


def _demand(part: doc.HeadcountPart | doc.DropInPart) -> core.Headcount | core.DropIn:
    if isinstance(part, doc.HeadcountPart):
        patterns = tuple(_pattern(p) for p in part.patterns)
        return core.Headcount(part.people, patterns, _rotation(part.rotation), part.follows)
    quiet = [0.0] * 24
    return core.DropIn(
        arrivals_per_hour=tuple(
            tuple(part.arrivals_per_hour.get(day, quiet)) for day in core.WEEKDAYS
        ),
        session_kind=part.session.kind,
        session_mean_minutes=part.session.mean_minutes,
        session_cv=part.session.cv,
    )


def _site(part: doc.SitePart) -> core.Site:
    resting = part.holidays
    own = tuple(core.OwnDay(each.day, each.name) for each in resting.own)
    return core.Site(part.id, part.time_zone, core.Holidays(resting.country, resting.region, own))


def _group(part: doc.GroupPart) -> core.Group:
    return core.Group(
        id=part.id,
        site=part.site,
        profile=part.profile,
        demand=_demand(part.demand),
        works_holidays=part.works_holidays,
        growth=None if part.growth is None else core.Growth(**dict(part.growth)),
    )


def _event(part: doc.EventPart) -> core.Event:
    return core.Event(
        id=part.id,
        groups=tuple(part.groups),
        when=(
            core.Dates(part.when.from_, part.when.to)
            if isinstance(part.when, doc.DatesPart)
            else core.MonthWorkdays(part.when.from_, part.when.to)
        ),
        factor=part.factor,
        shift_minutes=part.shift_minutes,
        pattern=part.pattern,
    )


def _profile(part: doc.ProfilePart) -> core.Profile:
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
    )


def _timeout(value: Any) -> int | None:
    return None if value == "never" else int(value)


def _pool(part: doc.PoolPart) -> core.Pool:
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
    )


def _schedule(part: doc.SchedulePart) -> core.Schedule:
    return core.Schedule(
        id=part.id,
        tick_seconds=part.tick_seconds,
        day_types=tuple(
            core.DayType(
                id=day_type.id,
                weekdays=tuple(core.WEEKDAYS.index(day) for day in day_type.weekdays),
                bands=tuple(
                    core.Band(
                        start=_clock(band.from_),
                        floor=band.floor,
                        fill_ceiling=band.fill_ceiling,
                        headroom=band.headroom,
                        rule=band.rule,
                        release=band.release,
                    )
                    for band in day_type.bands
                ),
            )
            for day_type in part.day_types
        ),
    )


def plan_from(document: doc.PlanDocument) -> core.Plan:
    """A checked core plan; raises PlanError where the parts do not fit each other."""
    plan = core.Plan(
        name=document.name,
        currency=document.currency,
        week_of=document.week_of,
        promise=core.Promise(**dict(document.promise)),
        sites=tuple(_site(s) for s in document.sites),
        profiles=tuple(_profile(p) for p in document.profiles),
        groups=tuple(_group(g) for g in document.groups),
        entitlements=tuple(
            core.Entitlement(e.group, e.pool, e.as_, tuple(e.apps), e.use, e.profile)
            for e in document.entitlements
        ),
        sizes=tuple(core.Size(**dict(size)) for size in document.sizes),
        disks=tuple(core.Disk(**dict(disk)) for disk in document.disks),
        pools=tuple(_pool(p) for p in document.pools),
        schedules=tuple(_schedule(s) for s in document.schedules),
        events=tuple(_event(e) for e in document.events),
        overlaps=tuple(core.Overlap(tuple(o.groups), o.people) for o in document.overlaps),
        images=tuple(core.Image(i.id, tuple(i.apps)) for i in document.images),
    )
    faults = faults_of(plan)
    if faults:
        raise PlanError(faults)
    return plan


def to_values(document: doc.PlanDocument) -> dict[str, Any]:
    """The document as plain JSON values, in the order of its fields."""
    return document.model_dump(mode="json", by_alias=True)


def canonical(value: object) -> str:
    """Canonical JSON: sorted keys, no spaces; equal documents give equal text."""
    return json.dumps(value, sort_keys=True, separators=(",", ":"), ensure_ascii=False)


def content_hash(value: object) -> str:
    """SHA-256 of the canonical JSON, as hexadecimal."""
    return hashlib.sha256(canonical(value).encode()).hexdigest()


def plan_schema() -> dict[str, Any]:
    """The JSON Schema of plan documents (draft 2020-12)."""
    schema = doc.PlanDocument.model_json_schema(by_alias=True)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}
