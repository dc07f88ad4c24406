"""A schedule in words: sentences that say all of it, and what else could be said.

A sentence is made of text and of tokens, each of which stands for a field: whoever shows it puts
the field's value there, and may let it be changed. A rule that is not in use is not in the
sentence; what it would begin with is an offer.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, fields, replace
from typing import Any, Literal, TypeAlias

from idle_harbor.core.plan import Pool
from idle_harbor.core.plan.declare import DAY, clock_text, end_text
from idle_harbor.core.plan.load_rules import SIGNAL_UNITS, SIGNALS, LoadRule
from idle_harbor.core.plan.lookup import called
from idle_harbor.core.plan.schedules import (
    Band,
    BandException,
    DayType,
    ReadyBy,
    ReadyByException,
    Schedule,
    as_in_pool,
    exceptions_of,
    own_values,
)

#: How a value is shown and changed: a share in per cent, a clock time, one of a few words, minutes
#: or never, a text; a name is only shown.
Kind: TypeAlias = Literal["number", "share", "clock", "choice", "site", "timeout", "text", "name"]


@dataclass(frozen=True, slots=True)
class Token:
    """A field in a sentence, by its name; its options are (value, words). Where the rule may be
    left out, ``without`` has the values that say so. A value that the pool alone has is its
    ``own``, and ``elsewhere`` says what the others have; ``may_be_own`` tells whether it could be.
    """

    field: str
    label: str
    kind: Kind = "number"
    options: tuple[tuple[str, str], ...] = ()
    without: Mapping[str, Any] | None = None
    own: bool = False
    elsewhere: str = ""
    may_be_own: bool = False


Part: TypeAlias = str | Token


@dataclass(frozen=True, slots=True)
class Offer:
    """A rule that is not in use: what it is called, the values that it begins with, and whether
    one pool alone could have it."""

    text: str
    values: Mapping[str, Any]
    may_be_own: bool = False


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence about one thing, and the rules that could be added to it."""

    parts: tuple[Part, ...]
    offers: tuple[Offer, ...] = ()

    def told(self, thing: object) -> str:
        """The sentence with the values of the thing as the pool has it."""
        return "".join(
            each if isinstance(each, str) else token_said(each, thing) for each in self.parts
        )


def token_said(token: Token, thing: object) -> str:
    """The value, and that the pool alone has it."""
    here = f" (here alone; else {token.elsewhere})" if token.own else ""
    return f"{value_said(token, thing)}{here}"


def value_said(token: Token, thing: object) -> str:
    """The value of a token's field as it is read."""
    value: Any = thing
    for name in token.field.split("."):
        value = value[int(name)] if name.isdigit() else getattr(value, name)
    if value is None and token.kind != "timeout":
        return "none"
    match token.kind:
        case "share":
            return f"{100 * value:.10g} %"
        case "timeout":
            return "never" if value is None else f"{value / 60:.10g} minutes"
        case "clock":
            return clock_text(value)
        case "choice" | "name":
            return dict(token.options)[_word(value)]
        case "number":
            return f"{value:.10g}"
        case _:
            return str(value)


def _word(value: object) -> str:
    """A value of a choice as its option names it."""
    return str(value).lower() if isinstance(value, bool) else str(value)


_RULES = (
    ("spread", "spread people over them"),
    ("fill", "fill one after the other"),
    ("fill to a mark", "fill each to a mark of"),
    ("by room", "send people where most CPU and memory are free"),
)
_RELEASES = (
    ("keep all", "keep all of them"),
    ("when empty", "let empty ones go"),
    ("drain", "drain the least used"),
    ("drain with notice", "drain the least used with notice"),
)
_TOLD = (
    ("disconnected", "who is disconnected"),
    ("idle too", "who is disconnected or idle"),
    ("everyone", "everyone, at work or not,"),
)
_KNOCKS = (("true", "has a host started at once"), ("false", "waits for the next look"))


def _own_of(thing: Band | ReadyBy, pool: Pool) -> frozenset[str]:
    """What the pool has otherwise, by the names of the fields."""
    found = (own_values(each) for each in exceptions_of(thing) if each.pool == pool.id)
    return frozenset(next(found, {}))


def _may_be_own(exception: type) -> frozenset[str]:
    return frozenset(each.name for each in fields(exception) if each.name != "pool")


_BAND_OWN, _TARGET_OWN = _may_be_own(BandException), _may_be_own(ReadyByException)


def _with_own(said: Said, shared: Band | ReadyBy, own: frozenset[str], may: frozenset[str]) -> Said:
    """The sentence with what the pool alone has or could have told as such."""

    def told(part: Part) -> Part:
        if isinstance(part, str) or part.field not in may:
            return part
        if part.field not in own:
            return replace(part, may_be_own=True)
        return replace(
            part,
            own=True,
            may_be_own=True,
            without={part.field: None},
            elsewhere=value_said(part, shared),
        )

    offers = (replace(each, may_be_own=may.issuperset(each.values)) for each in said.offers)
    return Said(tuple(map(told, said.parts)), tuple(offers))


def band_said(shared: Band, pool: Pool, rules: tuple[LoadRule, ...] = ()) -> Said:
    """What a band says of a pool, from "keep at least ..." on; ``rules`` are its schedule's load
    rules."""
    band, own = as_in_pool(shared, pool.id), _own_of(shared, pool)
    return _with_own(_band_said(band, own, pool, rules), shared, own, _BAND_OWN)


def _band_said(band: Band, own: frozenset[str], pool: Pool, rules: tuple[LoadRule, ...]) -> Said:
    rule = Token("rule", "Balancing rule", "choice", _RULES)
    release = Token("release", "Release", "choice", _RELEASES)
    parts: list[Part] = ["keep at least ", Token("floor", "Floor")]
    if band.floor_share or "floor_share" in own:
        share = Token("floor_share", "Floor as a share", "share", without={"floor_share": 0})
        parts += [" hosts, or ", share, " of the standing ones where that is more,"]
    parts += [
        f" of {pool.hosts.most} hosts ready; start the next when they are ",
        Token("fill_ceiling", "Fill ceiling in per cent", "share"),
        " full or fewer than ",
        Token("headroom", "Headroom in session slots"),
    ]
    if band.headroom_share or "headroom_share" in own:
        share = Token(
            "headroom_share", "Headroom as a share", "share", without={"headroom_share": 0}
        )
        parts += [" slots, or ", share, " of the sessions where that is more,"]
    else:
        parts += [" slots"]
    parts += [" are free; ", rule]
    if band.rule == "fill to a mark" or "mark" in own:
        parts += [" ", Token("mark", "Mark in per cent", "share")]
    parts += [
        ", and when more are ready than wanted, ",
        release,
        *_let_go(band, own),
        ".",
        *_told(band),
        *_bounds(band, own),
        *_steps(band),
        *_load_rules(band, rules),
    ]
    return Said(tuple(parts), (*_offers(band, pool), *_more_rules(band, pool, rules)))


def _let_go(band: Band, own: frozenset[str]) -> Iterable[Part]:
    """How hosts are let go; said of bands that keep all too, where somebody has set it."""
    if band.margin > 1 or "margin" in own:
        yield from (" from ", Token("margin", "Margin", without={"margin": 1}), " over")
    if band.least_run_minutes or "least_run_minutes" in own:
        least = Token("least_run_minutes", "Least run", without={"least_run_minutes": 0})
        yield from (", each after ", least, " minutes at least")
    if band.draining_most is not None:
        most = Token("draining_most", "Most draining", without={"draining_most": None})
        yield from (", ", most, " at once at most")
    if band.draining_share < 1.0 or "draining_share" in own:
        share = Token("draining_share", "Share draining", "share", without={"draining_share": 1})
        yield from (", at most ", share, " of those on at once")


def _told(band: Band) -> Iterable[Part]:
    """The notice, where there is one."""
    if band.release == "drain with notice":
        who = Token("notice.who", "Who is signed off", "choice", _TOLD)
        yield from (
            " On hosts that drain people read “",
            Token("notice.text", "Notice", "text"),
            "”, and after ",
            Token("notice.minutes", "Minutes of notice"),
            " minutes ",
            who,
            " is signed off.",
        )


def _load_rules(band: Band, rules: tuple[LoadRule, ...]) -> Iterable[Part]:
    """The load rules that are at work, by their names: what they say is the schedule's."""
    for k, rule in enumerate(band.load_rules):
        yield " Load rules at work: " if k == 0 else ", "
        name, left = called(rules, rule), [each for each in band.load_rules if each != rule]
        words = ((rule, name),)
        without = {"load_rules": left}
        yield Token(f"load_rules.{k}", f"Load rule {name}", "name", words, without)
    if band.load_rules:
        yield "."


def _more_rules(band: Band, pool: Pool, rules: tuple[LoadRule, ...]) -> Iterable[Offer]:
    if pool.kind != "dedicated":
        for rule in rules:
            if rule.id not in band.load_rules:
                yield Offer(f"load rule {rule.called}", {"load_rules": [*band.load_rules, rule.id]})


def _bounds(band: Band, own: frozenset[str]) -> Iterable[Part]:
    if band.lid is not None:
        yield from (" At most ", Token("lid", "Lid", without={"lid": None}), " hosts are on.")
    if band.session_limit is not None:
        limit = Token("session_limit", "Session limit of the band", without={"session_limit": None})
        yield from (" A host takes ", limit, " sessions.")
    if band.knock or "knock" in own:
        knock = Token("knock", "Who finds no room", "choice", _KNOCKS, {"knock": False})
        yield from (" Who finds no room ", knock, ".")
    if band.timeouts is not None:
        idle = Token("timeouts.idle", "Idle timeout of the band", "timeout")
        gone = Token(
            "timeouts.disconnected",
            "Disconnected timeout of the band",
            "timeout",
            without={"timeouts": None},
        )
        yield from (
            " Who is idle is disconnected after ",
            idle,
            ", and signed off after another ",
            gone,
            ".",
        )


def _steps(band: Band) -> Iterable[Part]:
    for k in range(len(band.drain_steps)):
        yield " By " if k == 0 else ", by "
        yield Token(f"drain_steps.{k}.by", f"Drain step {k + 1} by", "clock")
        yield " "
        left = [{"by": clock_text(s.by), "share": s.share} for s in band.drain_steps]
        yield Token(
            f"drain_steps.{k}.share",
            f"Drain step {k + 1}",
            "share",
            without={"drain_steps": left[:k] + left[k + 1 :]},
        )
        if k == 0:
            yield " of the hosts take nobody new"
    if band.drain_steps:
        yield "."


def _more_steps(band: Band) -> list[dict[str, Any]]:
    """The steps with one more: a quarter when the band begins, or a quarter more an hour later."""
    steps = [{"by": clock_text(step.by), "share": step.share} for step in band.drain_steps]
    if not steps:
        return [{"by": clock_text(band.start), "share": 0.25}]
    last = band.drain_steps[-1]
    return [
        *steps,
        {
            "by": clock_text(min(last.by + 3_600, last.by // DAY * DAY + 86_340)),
            "share": round(min(last.share + 0.25, 1.0), 2),
        },
    ]


def _offers(band: Band, pool: Pool) -> Iterable[Offer]:
    """Rules that begin with what changes as little as can be."""
    if not band.floor_share:
        share = band.floor / pool.hosts.standing if pool.hosts.standing else 0.5
        yield Offer("a share as floor", {"floor_share": round(min(max(share, 0.01), 1.0), 2)})
    if not band.headroom_share:
        yield Offer("a share as headroom", {"headroom_share": 0.1})
    if band.lid is None:
        yield Offer("a lid", {"lid": max(pool.hosts.most, 1)})
    if band.session_limit is None and pool.session_limit > 1:
        yield Offer("a session limit of its own", {"session_limit": pool.session_limit})
    if not band.knock and pool.kind != "dedicated":
        yield Offer("a start on a knock", {"knock": True})
    if band.timeouts is None:
        told = {"idle": pool.idle_timeout, "disconnected": pool.disconnected_timeout}
        yield Offer(
            "timeouts of its own",
            {
                "timeouts": {
                    name: "never" if value is None else value for name, value in told.items()
                }
            },
        )
    if pool.kind != "dedicated":
        yield Offer("a drain step by the clock", {"drain_steps": _more_steps(band)})
    if band.release == "keep all":
        return
    if band.margin == 1:
        yield Offer("a margin", {"margin": 2})
    if not band.least_run_minutes:
        yield Offer("a least run", {"least_run_minutes": 30})
    drains = band.release in ("drain", "drain with notice")
    if drains and band.draining_most is None:
        yield Offer("a number that drain at once", {"draining_most": max(pool.hosts.most // 4, 1)})
    if drains and band.draining_share == 1.0:
        yield Offer("a share that drain at once", {"draining_share": 0.25})


def target_said(shared: ReadyBy, pool: Pool) -> Said:
    """What a pool has ready by a time."""
    target, own = as_in_pool(shared, pool.id), _own_of(shared, pool)
    return _with_own(_target_said(target, own), shared, own, _TARGET_OWN)


def _target_said(target: ReadyBy, own: frozenset[str]) -> Said:
    parts: list[Part] = [Token("hosts", "Hosts ready by then")]
    offers = []
    if target.share or "share" in own:
        share = Token("share", "Share ready by then", "share", without={"share": 0})
        parts += [" hosts, or ", share, " of the standing ones where that is more,"]
    else:
        parts += [" hosts"]
        offers.append(Offer("as a share", {"share": 1.0}))
    parts += [" are ready by ", Token("at", "Ready by", "clock")]
    if target.clock_of is not None:
        parts += [
            " on the clock of ",
            Token("clock_of", "Whose clock", "site", without={"clock_of": None}),
        ]
    if target.until is not None:
        parts += [", until ", Token("until", "Kept until", "clock", without={"until": None})]
    else:
        parts += [" and for the rest of that band"]
        later = clock_text((target.at + 3_600) % 86_400)
        offers.append(Offer("an end of its own", {"until": later}))
    return Said((*parts, "."), tuple(offers))


#: Signals as the subject of a sentence, where they are not their own.
_SUBJECTS: dict[str, str] = {
    "cpu": "CPU use",
    "memory": "memory use",
    "slots in use": "the share of slots in use",
    "free slots": "the number of free slots",
    "sessions per host": "the number of sessions per host",
    "strained work": "the share of strained work",
    "logon time": "the mean logon time",
    "people waiting": "the number of people waiting",
    "people at work": "the number of people at work",
    "logons in progress": "the number of logons in progress",
    "idle sessions": "the number of idle sessions",
    "disconnected sessions": "the number of disconnected sessions",
    "hosts draining": "the number of hosts draining",
    "hosts without credits": "the number of hosts without credits",
    "network": "network traffic",
}
_SIGNALS = tuple((signal, _SUBJECTS[signal]) for signal in SIGNALS)
#: Units that a value is said with; the others are in the subject.
_SAID_UNITS = ("s", "Mbit/s")


def load_rule_said(rule: LoadRule) -> Said:
    """What a load rule says."""
    unit = SIGNAL_UNITS[rule.signal]
    kind: Kind = "share" if unit == "share" else "number"
    after = f" {unit}" if unit in _SAID_UNITS else ""
    up, down = ("below", "above") if rule.asks_where_low else ("above", "below")
    signal = Token("signal", "Signal", "choice", _SIGNALS)
    if rule.asks_at is None:
        return Said(
            (
                "No host is let go until ",
                signal,
                f" has been {down} ",
                Token("permits_at", "Lets go at", kind),
                f"{after} for ",
                Token("permits_hold_minutes", "Hold before hosts go"),
                " minutes.",
            ),
            (Offer("hosts that it asks for", {"asks_at": _beyond(rule, rule.permits_at or 0.0)}),),
        )
    without = {"asks_at": None} if rule.permits_at is not None else None
    parts: list[Part] = [
        "Once ",
        signal,
        f" has been {up} ",
        Token("asks_at", "Asks at", kind, without=without),
        f"{after} for ",
        Token("asks_hold_minutes", "Hold before it asks"),
        " minutes, ",
        Token("adds", "Hosts that it adds"),
        " hosts more are asked for, at most every ",
        Token("pause_minutes", "Pause"),
        " minutes",
    ]
    if rule.permits_at is None:
        parts += [", until the band ends."]
        back = Offer("a mark at which hosts go", {"permits_at": _short_of(rule, rule.asks_at)})
        return Said(tuple(parts), (back,))
    parts += [
        f"; once it has been {down} ",
        Token("permits_at", "Lets go at", kind, without={"permits_at": None}),
        f"{after} for ",
        Token("permits_hold_minutes", "Hold before hosts go"),
        " minutes, ",
        Token("takes_back", "Hosts that it takes back"),
        " fewer.",
    ]
    return Said(tuple(parts))


def _short_of(rule: LoadRule, asks_at: float) -> float:
    """A value on the side where hosts may go, half as far."""
    return round(2.0 * asks_at + 1.0 if rule.asks_where_low else asks_at / 2.0, 4)


def _beyond(rule: LoadRule, permits_at: float) -> float:
    """A value on the side that asks."""
    return round(permits_at / 2.0 if rule.asks_where_low else 2.0 * permits_at + 0.1, 4)


def schedule_lines(schedule: Schedule, pool: Pool) -> list[str]:
    """A schedule as a pool has it, a line for each band and target."""
    lines = []
    for day_type in schedule.day_types:
        lines.append(f"{_days_of(day_type)}:")
        for band, end in zip(day_type.bands, day_type.ends, strict=True):
            when = f"{clock_text(band.start)} to {end_text(end)}"
            lines.append(f"  {when}: {_band_line(band, pool, schedule)}")
        lines += [
            f"  {target_said(each, pool).told(as_in_pool(each, pool.id))}"
            for each in day_type.ready_by
        ]
    for rule in schedule.load_rules:
        lines.append(f"Load rule {rule.called}: {load_rule_said(rule).told(rule)}")
    if schedule.day_begins:
        begins = clock_text(schedule.day_begins)
        lines.append(f"Hours before {begins} belong to the day before.")
    lines.append(f"The policy looks every {schedule.tick_seconds:,} seconds.")
    return lines


def _band_line(band: Band, pool: Pool, schedule: Schedule) -> str:
    said = band_said(band, pool, schedule.load_rules)
    return said.told(as_in_pool(band, pool.id))


_WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")


def _days_of(day_type: DayType) -> str:
    days = [_WEEKDAYS[day] for day in day_type.weekdays]
    days += [f"{day:%A} {day.day} {day:%B %Y}" for day in day_type.dates]
    days += [f"from {each.first} to {each.last}" for each in day_type.ranges]
    days += [f"when there is {event}" for event in day_type.events]
    if day_type.holidays:
        days.append("holidays")
    if day_type.month_end:
        days.append(f"the last {day_type.month_end} workdays of a month")
    return f"{day_type.called} ({', '.join(days)})"
