"""A schedule in words: sentences that say all of it, and what else could be said.

A sentence is made of text and of tokens, each of which stands for a field: whoever shows it puts
the field's value there, and may let it be changed. A rule that is not in use is not in the
sentence; what it would begin with is an offer.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any, Literal, TypeAlias

from idle_harbor.core.plan import Pool
from idle_harbor.core.plan.declare import clock_text
from idle_harbor.core.plan.schedules import Band, DayType, ReadyBy, Schedule

#: How a value is shown and changed: a share in per cent, a clock time, one of a few words, minutes
#: or never.
Kind: TypeAlias = Literal["number", "share", "clock", "choice", "site", "timeout"]


@dataclass(frozen=True, slots=True)
class Token:
    """A field in a sentence, by its name; its options are (value, words). Where the rule may be
    left out, ``without`` has the values that say so."""

    field: str
    label: str
    kind: Kind = "number"
    options: tuple[tuple[str, str], ...] = ()
    without: Mapping[str, Any] | None = None


Part: TypeAlias = str | Token


@dataclass(frozen=True, slots=True)
class Offer:
    """A rule that is not in use: what it is called, and the values that it begins with."""

    text: str
    values: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class Said:
    """A sentence about one thing, and the rules that could be added to it."""

    parts: tuple[Part, ...]
    offers: tuple[Offer, ...] = ()

    def told(self, thing: object) -> str:
        """The sentence with the thing's values."""
        return "".join(
            each if isinstance(each, str) else _shown(each, thing) for each in self.parts
        )


def _shown(token: Token, thing: object) -> str:
    value: Any = thing
    for name in token.field.split("."):
        value = value[int(name)] if name.isdigit() else getattr(value, name)
    match token.kind:
        case "share":
            return f"{100 * value:.10g} %"
        case "timeout":
            return "never" if value is None else f"{value / 60:.10g} minutes"
        case "clock":
            return clock_text(value)
        case "choice":
            return dict(token.options)[_word(value)]
        case _:
            return str(value)


def _word(value: object) -> str:
    """A value of a choice as its option names it."""
    return str(value).lower() if isinstance(value, bool) else str(value)


_RULES = (("spread", "spread people over them"), ("fill", "fill one after the other"),
          ("fill to a mark", "fill each to a mark of"),
          ("by room", "send people where most CPU and memory are free"))  # fmt: skip
_RELEASES = (("keep all", "keep all of them"), ("when empty", "let empty ones go"),
             ("drain", "drain the least used"))  # fmt: skip
_KNOCKS = (("true", "has a host started at once"), ("false", "waits for the next look"))


def band_said(band: Band, pool: Pool) -> Said:
    """What a band says, from "keep at least ..." on."""
    rule = Token("rule", "Balancing rule", "choice", _RULES)
    release = Token("release", "Release", "choice", _RELEASES)
    parts: list[Part] = ["keep at least ", Token("floor", "Floor")]
    if band.floor_share:
        share = Token("floor_share", "Floor as a share", "share", without={"floor_share": 0})
        parts += [" hosts, or ", share, " of the standing ones where that is more,"]
    parts += [f" of {pool.hosts.most} hosts ready; start the next when they are ",
              Token("fill_ceiling", "Fill ceiling in per cent", "share"), " full or fewer than ",
              Token("headroom", "Headroom in session slots")]  # fmt: skip
    if band.headroom_share:
        share = Token("headroom_share", "Headroom as a share", "share",
                      without={"headroom_share": 0})  # fmt: skip
        parts += [" slots, or ", share, " of the sessions where that is more,"]
    else:
        parts += [" slots"]
    parts += [" are free; ", rule]
    if band.rule == "fill to a mark":
        parts += [" ", Token("mark", "Mark in per cent", "share")]
    parts += [", and when more are ready than wanted, ", release,
              *_let_go(band), ".", *_bounds(band), *_steps(band)]  # fmt: skip
    return Said(tuple(parts), tuple(_offers(band, pool)))


def _let_go(band: Band) -> Iterable[Part]:
    """How hosts are let go; said of bands that keep all too, where somebody has set it."""
    if band.margin > 1:
        yield from (" from ", Token("margin", "Margin", without={"margin": 1}), " over")
    if band.least_run_minutes:
        least = Token("least_run_minutes", "Least run", without={"least_run_minutes": 0})
        yield from (", each after ", least, " minutes at least")
    if band.draining_most is not None:
        most = Token("draining_most", "Most draining", without={"draining_most": None})
        yield from (", ", most, " at once at most")
    if band.draining_share < 1.0:
        share = Token("draining_share", "Share draining", "share", without={"draining_share": 1})
        yield from (", at most ", share, " of those on at once")


def _bounds(band: Band) -> Iterable[Part]:
    if band.lid is not None:
        yield from (" At most ", Token("lid", "Lid", without={"lid": None}), " hosts are on.")
    if band.session_limit is not None:
        limit = Token("session_limit", "Session limit of the band", without={"session_limit": None})
        yield from (" A host takes ", limit, " sessions.")
    if band.knock:
        knock = Token("knock", "Who finds no room", "choice", _KNOCKS, {"knock": False})
        yield from (" Who finds no room ", knock, ".")
    if band.timeouts is not None:
        idle = Token("timeouts.idle", "Idle timeout of the band", "timeout")
        gone = Token("timeouts.disconnected", "Disconnected timeout of the band", "timeout",
                     without={"timeouts": None})  # fmt: skip
        yield from (" Who is idle is disconnected after ", idle, ", and signed off after another ",
                    gone, ".")  # fmt: skip


def _steps(band: Band) -> Iterable[Part]:
    for k in range(len(band.drain_steps)):
        yield " By " if k == 0 else ", by "
        yield Token(f"drain_steps.{k}.by", f"Drain step {k + 1} by", "clock")
        yield " "
        left = [{"by": clock_text(s.by), "share": s.share} for s in band.drain_steps]
        yield Token(f"drain_steps.{k}.share", f"Drain step {k + 1}", "share",
                    without={"drain_steps": left[:k] + left[k + 1 :]})  # fmt: skip
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
    return [*steps, {"by": clock_text(min(last.by + 3_600, 86_340)),
                     "share": round(min(last.share + 0.25, 1.0), 2)}]  # fmt: skip


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
        yield Offer("timeouts of its own", {"timeouts": {
            name: "never" if value is None else value for name, value in told.items()
        }})  # fmt: skip
    if pool.kind != "dedicated":
        yield Offer("a drain step by the clock", {"drain_steps": _more_steps(band)})
    if band.release == "keep all":
        return
    if band.margin == 1:
        yield Offer("a margin", {"margin": 2})
    if not band.least_run_minutes:
        yield Offer("a least run", {"least_run_minutes": 30})
    if band.release == "drain" and band.draining_most is None:
        yield Offer("a number that drain at once", {"draining_most": max(pool.hosts.most // 4, 1)})
    if band.release == "drain" and band.draining_share == 1.0:
        yield Offer("a share that drain at once", {"draining_share": 0.25})


def target_said(target: ReadyBy) -> Said:
    """What is to be ready by a time."""
    parts: list[Part] = [Token("hosts", "Hosts ready by then")]
    offers = []
    if target.share:
        share = Token("share", "Share ready by then", "share", without={"share": 0})
        parts += [" hosts, or ", share, " of the standing ones where that is more,"]
    else:
        parts += [" hosts"]
        offers.append(Offer("as a share", {"share": 1.0}))
    parts += [" are ready by ", Token("at", "Ready by", "clock")]
    if target.clock_of is not None:
        parts += [" on the clock of ", Token("clock_of", "Whose clock", "site",
                                             without={"clock_of": None})]  # fmt: skip
    if target.until is not None:
        parts += [", until ", Token("until", "Kept until", "clock", without={"until": None})]
    else:
        parts += [" and for the rest of that band"]
        later = clock_text((target.at + 3_600) % 86_400)
        offers.append(Offer("an end of its own", {"until": later}))
    return Said((*parts, "."), tuple(offers))


def schedule_lines(schedule: Schedule, pool: Pool) -> list[str]:
    """A schedule as a pool has it, a line for each band and target."""
    lines = []
    for day_type in schedule.day_types:
        lines.append(f"{_days_of(day_type)}:")
        starts = [clock_text(band.start) for band in day_type.bands]
        for band, start, end in zip(day_type.bands, starts, [*starts[1:], "24:00"], strict=True):
            lines.append(f"  {start} to {end}: {band_said(band, pool).told(band)}")
        lines += [f"  {target_said(each).told(each)}" for each in day_type.ready_by]
    lines.append(f"The policy looks every {schedule.tick_seconds:,} seconds.")
    return lines


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
    return f"{day_type.id} ({', '.join(days)})"
