"""Moves that add and remove what a schedule may also do without: targets, lids, session limits of a
band, drain steps and load rules."""

from __future__ import annotations

from dataclasses import replace

from idle_harbor.core.plan import Band, DayType
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import DrainStep, ReadyBy, in_day
from idle_harbor.core.tuner.designs.design import QUARTER, Design
from idle_harbor.core.tuner.designs.drawing import Draw, counting, with_kind
from idle_harbor.core.tuner.designs.knobs import Bounds
from idle_harbor.core.tuner.designs.pins import LIDS, LIMITS, RULES, STEPS, TARGETS, whole_free

_SHARES = (0.25, 0.5, 0.75, 1.0)
#: Load rules that a search may add where a schedule has none of that signal.
TEMPLATES = (
    LoadRule("busy", "slots in use", asks_at=0.8, permits_at=0.6),
    LoadRule("hot", "cpu", asks_at=0.8, permits_at=0.6),
    LoadRule("waiting", "people waiting", asks_at=1.0, asks_hold_minutes=0, pause_minutes=5),
)


def _band(draw: Draw, design: Design, bounds: Bounds) -> tuple[int, int]:
    """The places of a kind of day that counts, and of one of its bands."""
    at = counting(draw, design, bounds)
    return at, draw.below(len(design.schedule.day_types[at].bands))


def _with_band(design: Design, at: int, k: int, band: Band) -> Design | None:
    kind = design.schedule.day_types[at]
    bands = (*kind.bands[:k], band, *kind.bands[k + 1 :])
    return with_kind(design, at, replace(kind, bands=bands))


def ready_by(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Add a target, or remove one: floors may do its work."""
    if not all(whole_free(path, bounds) for path in TARGETS):
        return None
    at = counting(draw, design, bounds)
    kind = design.schedule.day_types[at]
    if kind.ready_by and draw.chance(0.6):
        k = draw.below(len(kind.ready_by))
        left = (*kind.ready_by[:k], *kind.ready_by[k + 1 :])
        return with_kind(design, at, replace(kind, ready_by=left))
    band = draw.one(kind.bands)
    begin = band.start + QUARTER * (draw.below(9) - 4)
    most = design.pool.hosts.most
    clock = in_day(kind.begins, begin)
    target = ReadyBy(clock, hosts=min(band.floor + 1 + draw.below(max(most // 4, 1)), most))
    found = sorted((*kind.ready_by, target), key=lambda each: each.at)
    return with_kind(design, at, replace(kind, ready_by=tuple(found)))


def lid(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Add a lid to a band, or remove it."""
    if not whole_free(LIDS, bounds) or design.pool.kind == "dedicated":
        return None
    at, k = _band(draw, design, bounds)
    band, hosts = design.schedule.day_types[at].bands[k], design.pool.hosts
    least = max(band.least(hosts.standing), 1)
    many = None if band.lid is not None else least + draw.below(max(hosts.most - least, 1))
    return _with_band(design, at, k, replace(band, lid=many))


def own_limit(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Add a session limit of its own to a band, or remove it."""
    limit = design.pool.session_limit
    if not whole_free(LIMITS, bounds) or design.pool.kind != "shared" or limit < 2:
        return None
    at, k = _band(draw, design, bounds)
    band = design.schedule.day_types[at].bands[k]
    own = None if band.session_limit is not None else 1 + draw.below(limit - 1)
    return _with_band(design, at, k, replace(band, session_limit=own))


def drain_step(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Add a drain step to a band, or remove one."""
    if not whole_free(STEPS, bounds):
        return None
    at, k = _band(draw, design, bounds)
    kind = design.schedule.day_types[at]
    band, end = kind.bands[k], kind.ends[k]
    if band.drain_steps and draw.chance(0.5):
        j = draw.below(len(band.drain_steps))
        left = (*band.drain_steps[:j], *band.drain_steps[j + 1 :])
        return _with_band(design, at, k, replace(band, drain_steps=left))
    by = band.start + QUARTER * draw.below(max((end - band.start) // QUARTER, 1))
    if any(step.by == by for step in band.drain_steps):
        return None
    steps = (*band.drain_steps, DrainStep(by, draw.one(_SHARES)))
    ordered = tuple(sorted(steps, key=lambda step: step.by))
    return _with_band(design, at, k, replace(band, drain_steps=ordered))


def load_rule(draw: Draw, design: Design, bounds: Bounds) -> Design | None:
    """Put a load rule to work in some bands, or no longer; a schedule may get a new one."""
    if not whole_free(RULES, bounds) or design.pool.kind == "dedicated":
        return None
    schedule = design.schedule
    new = [rule for rule in TEMPLATES if rule.id not in {each.id for each in schedule.load_rules}]
    known = schedule.load_rules
    if new and len(known) < len(TEMPLATES) and (not known or draw.chance(0.2)):
        known = (*known, draw.one(new))
    if not known:
        return None
    rule = draw.one(known).id
    at, k = _band(draw, design, bounds)
    kind = schedule.day_types[at]
    on = rule not in kind.bands[k].load_rules
    whole_day = draw.chance(0.5)

    def of(number: int, band: Band) -> Band:
        if (not whole_day and number != k) or on == (rule in band.load_rules):
            return band
        left = tuple(each for each in band.load_rules if each != rule)
        return replace(band, load_rules=(*left, rule) if on else left)

    changed: DayType = replace(
        kind, bands=tuple(of(number, band) for number, band in enumerate(kind.bands))
    )
    return with_kind(replace(design, schedule=replace(schedule, load_rules=known)), at, changed)
