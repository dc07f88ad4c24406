"""From plan documents (JSON, or values read from JSON) to checked core plans, with clear faults."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from functools import lru_cache
from typing import Any

import orjson
from pydantic import ValidationError
from pydantic_core import ErrorDetails, from_json

from idle_harbor.core import plan as core
from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.core.fields import BY_PATH
from idle_harbor.core.plan_rules import faults_of
from idle_harbor.formats import people_document as people
from idle_harbor.formats import plan_document as doc
from idle_harbor.formats.hosts_reading import (
    image_from,
    place_from,
    pool_from,
    prices_from,
    profile_from,
    size_from,
)

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
        whole = text.encode() if isinstance(text, str) else text
        value = from_json(whole.decode("utf-8-sig"), allow_inf_nan=False)
    except UnicodeError as error:
        raise PlanError(
            [Fault("", "this is not JSON in UTF-8", "save the file as UTF-8 text")]
        ) from error
    except ValueError as error:
        raise PlanError(
            [Fault("", f"this is not JSON: {str(error)[:200]}", "mend the text there")]
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
            f"give a number from {spec.low:g} to {spec.high:,.12g}{unit}",
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
    if "x00" in pattern:
        return "give a text without zero bytes"
    if "A-Z" in pattern:
        return "give three capital letters, such as EUR"
    return "use small letters, digits and hyphens, at most 63 of them"


@lru_cache(maxsize=2_000)
def _clock(text: str) -> int:
    return int(text[:2]) * 3600 + int(text[3:]) * 60


#: Large plans have ten thousand of these, and few that differ.
_ways = lru_cache(maxsize=2_000)(core.Leaving)


def _leaving(part: people.LeavingPart) -> core.Leaving:
    return _ways(part.sign_off, part.disconnect, part.walk_away)


def _start(part: people.StartPart | people.ObservedStartPart) -> core.Spread:
    if isinstance(part, people.StartPart):
        return core.Normal(float(_clock(part.mean)), 60.0 * part.sd_minutes)
    return core.Histogram(_clock(part.from_), 60 * part.step_minutes, tuple(part.weights))


def _length(part: people.LengthPart | people.ObservedLengthPart) -> core.Spread:
    if isinstance(part, people.LengthPart):
        return core.Normal(60.0 * part.mean_minutes, 60.0 * part.sd_minutes)
    return core.Histogram(60 * part.from_minutes, 60 * part.step_minutes, tuple(part.weights))


def _break(part: people.BreakPart) -> core.Break:
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


def _pattern(part: people.PatternPart) -> core.Pattern:
    return core.Pattern(
        id=part.id,
        share=part.share,
        attendance=tuple(part.attendance.get(day) for day in core.WEEKDAYS),
        start=_start(part.start),
        length=_length(part.length),
        breaks=tuple(_break(pause) for pause in part.breaks),
        leaving=_leaving(part.leaving),
    )


def _rotation(part: people.RotationPart | None) -> core.Rotation | None:
    return None if part is None else core.Rotation(part.every_days, tuple(part.order), part.since)


def _demand(part: people.HeadcountPart | people.DropInPart) -> core.Headcount | core.DropIn:
    if isinstance(part, people.HeadcountPart):
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
        different_people=part.different_people,
    )


def _site(part: people.SitePart) -> core.Site:
    resting = part.holidays
    own = tuple(core.OwnDay(each.day, each.name) for each in resting.own)
    return core.Site(
        part.id,
        part.time_zone,
        core.Holidays(resting.country, resting.region, own),
        tuple(part.display),
    )


def _group(part: people.GroupPart) -> core.Group:
    return core.Group(
        id=part.id,
        site=part.site,
        profile=part.profile,
        demand=_demand(part.demand),
        works_holidays=part.works_holidays,
        growth=None if part.growth is None else core.Growth(**dict(part.growth)),
        data_areas=tuple(part.data_areas),
    )


def _event(part: people.EventPart) -> core.Event:
    return core.Event(
        id=part.id,
        groups=tuple(part.groups),
        when=(
            core.Dates(part.when.from_, part.when.to)
            if isinstance(part.when, people.DatesPart)
            else core.MonthWorkdays(part.when.from_, part.when.to)
        ),
        factor=part.factor,
        shift_minutes=part.shift_minutes,
        pattern=part.pattern,
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
        profiles=tuple(profile_from(p) for p in document.profiles),
        groups=tuple(_group(g) for g in document.groups),
        entitlements=tuple(
            core.Entitlement(e.group, e.pool, e.as_, tuple(e.apps), e.use, e.profile)
            for e in document.entitlements
        ),
        sizes=tuple(size_from(size) for size in document.sizes),
        disks=tuple(core.Disk(**dict(disk)) for disk in document.disks),
        pools=tuple(pool_from(p) for p in document.pools),
        schedules=tuple(_schedule(s) for s in document.schedules),
        events=tuple(_event(e) for e in document.events),
        overlaps=tuple(core.Overlap(tuple(o.groups), o.people) for o in document.overlaps),
        images=tuple(image_from(i) for i in document.images),
        places=tuple(place_from(p) for p in document.places),
        prices=prices_from(document.prices),
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
    return orjson.dumps(value, option=orjson.OPT_SORT_KEYS).decode()


def content_hash(value: object) -> str:
    """SHA-256 of the canonical JSON, as hexadecimal."""
    return text_hash(canonical(value))


def text_hash(text: str) -> str:
    """SHA-256 of a text that is canonical JSON already."""
    return hashlib.sha256(text.encode()).hexdigest()


@lru_cache(maxsize=1)
def plan_shape() -> str:
    """A name of the shape that documents have today: a hash of their schema."""
    return content_hash(plan_schema())


def plan_schema() -> dict[str, Any]:
    """The JSON Schema of plan documents (draft 2020-12)."""
    schema = doc.PlanDocument.model_json_schema(by_alias=True)
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **schema}
