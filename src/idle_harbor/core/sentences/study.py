"""What a study has found, in sentences."""

from __future__ import annotations

from collections.abc import Sequence
from math import ceil
from typing import Any

from idle_harbor.core.figures.promise import BY_FIELD, PARTS
from idle_harbor.core.money.words import money_text
from idle_harbor.core.plan.declare import Freedom, clock_text
from idle_harbor.core.plan.load_rules import LoadRule
from idle_harbor.core.plan.schedules import Band, DrainStep, ReadyBy, Timeouts
from idle_harbor.core.sentences.listed import listed
from idle_harbor.core.tuner.designs.changes import OF_RULES, Change, Value, values_of
from idle_harbor.core.tuner.report.answer import Answer
from idle_harbor.core.tuner.report.explain import Step
from idle_harbor.core.tuner.report.together import PoolChange

#: What each setting is called, with its value and what it was before.
_POOL = {
    "hosts.standing": "{after} standing hosts instead of {before}",
    "hosts.surge": "{after} surge hosts instead of {before}",
    "hosts.surge_stays_minutes": "surge hosts stay off for {after} min instead of {before}",
    "session_limit": "up to {after} sessions on a host instead of {before}",
    "idle_timeout": "idle sessions are {after} instead of {before}",
    "disconnected_timeout": "disconnected sessions are {after} instead of {before}",
    "size": "hosts of size {after} instead of {before}",
    "place": "hosts in {after} instead of {before}",
    "start.parallel": "{after} starting at once instead of {before}",
}
_BAND = {
    "fill_ceiling": "filled up to {after:.0%} before the next host starts",
    "rule": "people go by {after}",
    "release": "{after}",
    "margin": "{after} hosts over before one goes",
    "least_run_minutes": "hosts ready for {after} min at least",
    "draining_share": "{after:.0%} of the hosts drain at once",
    "knock": "{after}",
    "notice.minutes": "{after} min of notice",
    "notice.who": "notice for those {after}",
    "timeouts": "{after}",
    "floor_share": "{after:.0%} of the standing hosts ready at least",
    "headroom_share": "free slots for {after:.0%} of the sessions at least",
    "lid": "{after} on at once",
    "session_limit": "hosts take {after} sessions",
    "drain_steps": "{after}",
    "load_rules": "{after}",
    "timeouts.idle": "idle sessions are {after} instead of {before}",
    "timeouts.disconnected": "disconnected sessions are {after} instead of {before}",
}
_RELEASES = {
    "keep all": "all hosts are kept",
    "when empty": "empty hosts stop",
    "drain": "the least used hosts drain",
    "drain with notice": "the least used hosts drain with notice",
}
_WHO = {"disconnected": "who are disconnected", "idle too": "who are disconnected or idle"}


def _after(value: int | None) -> str:
    return "never" if value is None else f"after {value // 60} min"


def _ended(field: str, value: int | None) -> str:
    """What becomes of sessions by a timeout, and when."""
    what = "disconnected" if "idle" in field else "signed off"
    return f"never {what}" if value is None else f"{what} {_after(value)}"


def _own(timeouts: Timeouts | None) -> str:
    """Timeouts of a band."""
    if timeouts is None:
        return "timeouts of the pool"
    idle, gone = _ended("idle", timeouts.idle), _ended("disconnected", timeouts.disconnected)
    return f"idle sessions are {idle}, disconnected ones {gone}"


def _said(value: Value) -> tuple[Any, Any]:
    """Before and after as they are told."""
    field = value.field
    if field == "timeouts":
        return _own(value.before), _own(value.after)
    if field.startswith("timeouts.") or field.endswith("_timeout"):
        return _after(value.before), _ended(field, value.after)
    if field == "start.parallel":
        return value.before, "any number of hosts" if value.after is None else (
            _many(value.after, "host", "hosts")
        )
    if field == "lid":
        return value.before, "any number of hosts" if value.after is None else (
            f"at most {_many(value.after, 'host', 'hosts')}"
        )
    if field == "session_limit":
        return value.before, "the pool's number of" if value.after is None else value.after
    if field == "drain_steps":
        return value.before, _steps(value.after)
    if field == "load_rules":
        names = listed(value.after) if value.after else "no load rule"
        return value.before, f"{names} at work"
    if field == "release":
        return _RELEASES.get(value.before, value.before), _RELEASES.get(value.after, value.after)
    if field == "notice.who":
        return _WHO.get(value.before, value.before), _WHO.get(value.after, value.after)
    if field == "knock":
        knocks = {True: "a host starts at a knock", False: "no host starts at a knock"}
        return knocks[bool(value.before)], knocks[bool(value.after)]
    return value.before, value.after


def _many(number: int, one: str, more: str) -> str:
    return f"{number} {one if number == 1 else more}"


def _slots(many: int, limit: int) -> str:
    """Free slots, with the hosts that hold so many sessions."""
    slots = _many(many, "free slot", "free slots")
    hosts = ceil(many / limit)
    return slots if limit == 1 or not many else f"{slots} ({_many(hosts, 'host', 'hosts')})"


def _value_text(value: Value, known: dict[str, str], limit: int) -> str:
    before, after = _said(value)
    if value.field == "floor":
        return f"a floor of {_many(after, 'host', 'hosts')} instead of {before}"
    if value.field == "headroom":
        return f"{_slots(after, limit)} instead of {before}"
    if value.field in known:
        return known[value.field].format(before=before, after=after)
    name = value.field.replace("_", " ").replace(".", " ")
    return f"{name} {after} instead of {before}"


def _steps(steps: Sequence[DrainStep]) -> str:
    """What drain steps say."""
    if not steps:
        return "no drain step"
    return listed(
        [f"{step.share:.0%} of the hosts drain by {clock_text(step.by)}" for step in steps]
    )


def _rule_text(rule: LoadRule) -> str:
    """What a load rule says by itself."""
    told = []
    if rule.asks_at is not None:
        way = "below" if rule.asks_where_low else "above"
        hosts = _many(rule.adds, "more host", "more hosts")
        told.append(f"{hosts} where {rule.signal} is {way} {rule.asks_at:g}")
    if rule.permits_at is not None:
        way = "above" if rule.asks_where_low else "below"
        told.append(f"hosts may go {way} {rule.permits_at:g}")
    return ", ".join(told)


def _band_text(band: Band, limit: int) -> str:
    """What a band says by itself, beside what bands say anyway."""
    told = [
        f"a floor of {_many(band.floor, 'host', 'hosts')}",
        _slots(band.headroom, limit),
        f"people go by {band.rule}",
        _RELEASES[band.release],
    ]
    rest = {"floor", "headroom", "rule", "release", "start"}
    plain = Band(0, fill_ceiling=1.0)
    told += [
        _value_text(value, _BAND, limit)
        for value in values_of(plain, band)
        if value.field not in rest and "." not in value.field
    ]
    return ", ".join(told)


def change_text(change: Change, limit: int = 1) -> str:
    """Return a change as a sentence without its full stop.

    Args:
        change: the change.
        limit: sessions that a host takes, to say how many hosts free slots are.
    """
    before, after = change.before, change.after
    if not change.kind:
        return "; ".join(_value_text(value, _POOL, limit) for value in change.values)
    if change.kind == OF_RULES:
        told = [_value_text(value, {}, limit) for value in change.values] or [_rule_text(after)]
        return f"load rule '{after.called}': {', '.join(told)}"
    day = change.called
    if isinstance(before, ReadyBy) or isinstance(after, ReadyBy):
        if after is None:
            return f"{day}: nothing need be ready by {clock_text(before.at)}"
        if before is None:
            return f"{day}: {after.hosts} hosts ready by {clock_text(after.at)}"
        return (
            f"{day}: {after.hosts} hosts ready by {clock_text(after.at)} instead of "
            f"{before.hosts} by {clock_text(before.at)}"
        )
    if after is None:
        return f"{day}: the band from {clock_text(before.start)} goes"
    if before is None:
        return f"{day}: a band from {clock_text(after.start)}: {_band_text(after, limit)}"
    moved = f" instead of {clock_text(before.start)}" if before.start != after.start else ""
    told = [_value_text(value, _BAND, limit) for value in change.values if value.field != "start"]
    what = ", ".join(told) or "begins then"
    return f"{day}, from {clock_text(after.start)}{moved}: {what}"


def step_text(step: Step, currency: str) -> str:
    """What a step saves, and what it costs in waits, in a sentence."""
    saves = abs(step.saves)
    if round(saves) == 0:
        told = "It changes the money by nothing"
    else:
        told = f"It {'saves' if step.saves > 0 else 'costs'} {money_text(saves, currency)} a month"
    felt = []
    for part in PARTS:
        more = step.adds[part.field]
        if more is None:
            felt.append(f"{part.spoken} has no bound before or after it")
        elif part.timed and abs(more) >= 0.5:
            way = "longer" if more > 0 else "shorter"
            felt.append(f"{part.spoken} is {abs(more):,.0f} s {way}")
        elif not part.timed and abs(more) >= 0.0005:
            felt.append(f"{part.spoken} {more:+.2%}")
    broken = "" if step.keeps else " The promise is broken after it."
    return f"{told}, {', '.join(felt)}.{broken}" if felt else f"{told}.{broken}"


def _by_luck(answer: Answer) -> str:
    """Return the first sentence about a study without a tuned plan.

    It names the plans that kept the promise on the shown weeks, but not on further ones.
    """
    shown = [answer.current, *answer.rules, *answer.front]
    kept = [point.name or "a plan" for point in shown if point.report.standing == "kept"]
    if not kept:
        return (
            "Nothing that was tried surely keeps the promise on weeks that the search had not seen."
        )
    names = listed(list(dict.fromkeys(kept)))
    return (
        f"Nothing that was tried surely keeps the promise: {names} kept it on the weeks shown "
        "here, but not surely on further weeks."
    )


def _unkept(answer: Answer, currency: str) -> str:
    """Why nothing was found that keeps the promise, and what comes nearest to it."""
    told = [*answer.front, *answer.rules, answer.current]
    nearest = answer.nearest
    missed = [
        [part for part, standing in point.report.standings.items() if standing != "kept"]
        for point in told
    ]
    of_nearest = [
        f"{BY_FIELD[part].spoken} {'perhaps ' if standing == 'at risk' else ''}beyond it"
        for part, standing in nearest.report.standings.items()
        if standing != "kept"
    ]
    by_all = [part.spoken for part in PARTS if all(part.field in parts for parts in missed)]
    said = [_by_luck(answer)]
    if of_nearest:
        money = money_text(nearest.report.money.mean or 0.0, currency)
        said.append(f"Nearest to it are {money} a month, with {', '.join(of_nearest)}.")
    if by_all:
        said.append(
            f"No plan that was tried keeps what is promised of {listed(by_all)}, however dear."
        )
    said.append(_what_helps(answer))
    return " ".join(said)


#: What each freedom lets a search change.
_FREEDOMS: dict[Freedom, str] = {
    "schedule": "the schedule",
    "timeouts": "the timeouts",
    "limit": "the session limit",
    "hosts": "the number of hosts",
    "size": "the host size",
    "place": "the place",
    "starts": "how many hosts start at once",
    "shares": "the shares of floors and headroom",
    "lids": "the lids",
    "drain steps": "the drain steps",
    "load rules": "the load rules",
}


def _what_helps(answer: Answer) -> str:
    """Which further freedom would help: each was tried."""
    if not answer.helps:
        return "More weeks may find one; no single further freedom was seen to help."
    names = [_FREEDOMS[each] for each in answer.helps]
    way = names[0] if len(names) == 1 else f"{', '.join(names[:-1])} or {names[-1]}"
    return f"Where {way} may change as well, a plan keeps it: search again with that free."


def verdict(answer: Answer, currency: str) -> str:
    """What came of a study, in a sentence or two."""
    today = answer.current.report
    before = today.money.mean or 0.0
    if answer.tuned is None:
        return _unkept(answer, currency)
    report = answer.tuned.report
    now = report.money.mean or 0.0
    kept = (
        "which keeps the promise too"
        if today.standing == "kept"
        else (
            "which does not surely keep the promise"
            if today.standing == "at risk"
            else "which breaks the promise"
        )
    )
    if answer.tuned.design == answer.current.design:
        return "Nothing better than the plan of today was found."
    way = "less" if now <= before else "more"
    share = abs(before - now) / before if before else 0.0
    month, saved = (money_text(each, currency) for each in (now, abs(before - now)))
    return (
        f"{month} a month keep the promise: {saved} ({share:.0%}) {way} than the plan of today, "
        f"{kept}."
    )


#: Money and hours of a month that are told.
_TOLD = 0.5


def _hours(number: float) -> str:
    many = round(abs(number))
    return f"{many:,} hour{'' if many == 1 else 's'}" if many else "less than an hour"


def pools_text(names: Sequence[str], changes: Sequence[PoolChange], currency: str) -> str:
    """What a choice does otherwise than another, pool by pool, and what comes of it; what neither
    money nor hours tell of is left out."""
    changes = [each for each in changes if max(abs(each.money), abs(each.spoiled)) >= _TOLD]
    if not changes:
        return "Nothing that was found does more for it."
    parts = []
    for each in changes:
        way = "more" if each.money > 0 else "less"
        money = f"{money_text(abs(each.money), currency)} {way}"
        breaks = "" if each.keeps else ", and its promise is not kept for sure"
        parts.append(
            f"{names[each.pool]} {money} ({_hours(each.spoiled)} "
            f"{'more' if each.spoiled > 0 else 'fewer'} spoiled{breaks})"
        )
    total = sum(each.money for each in changes)
    hours = sum(each.spoiled for each in changes)
    spent = money_text(abs(total), currency)
    whole = (
        f"together {spent} {'more' if total > 0 else 'less'} a month and "
        f"{_hours(hours)} of work {'more' if hours > 0 else 'fewer'} spoiled"
    )
    return f"{'; '.join(parts)}: {whole}."
