"""The Tuner against other ways to find settings, on the same weeks and told by the same fresh ones.

Each way has the freedoms of the study and begins with the plan of today: random hill climbing
(one move of the Tuner's own at a time, kept where it is worth more), and floors of each band at
the peak quantile, shifted by the start time, searched coordinate by coordinate. Beside them three
simple rules with the tuned plan's own limit, size and timeouts (or those that theory would have on
its hosts, where they do better), each with its own numbers searched for: all hosts always on, fixed
counts by day and by night, one number of open slots all day.
"""

from __future__ import annotations

import time
from collections.abc import Callable, Generator, Iterator, Sequence
from dataclasses import dataclass, replace
from typing import TypeVar, cast

import numpy as np

from benchmarks.tuner_scenarios import POOL, scenarios
from idle_harbor.core.base.stopping import in_threads
from idle_harbor.core.plan import Band, DayType, Plan
from idle_harbor.core.plan.declare import Freedom
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.tuner import Question, Study, on_threads, ordinary, tune
from idle_harbor.core.tuner.designs.design import QUARTER, Design, design_of
from idle_harbor.core.tuner.designs.drawing import Draw
from idle_harbor.core.tuner.designs.knobs import knobs_of
from idle_harbor.core.tuner.designs.moves import allowed, moves_for
from idle_harbor.core.tuner.designs.shapes import days_in_order
from idle_harbor.core.tuner.guesses.lingering import timed_by_theory
from idle_harbor.core.tuner.guesses.theory import (
    QUARTERS,
    ahead,
    demand_on,
    guess,
    lead_quarters,
)
from idle_harbor.core.tuner.report.answer import Answer
from idle_harbor.core.tuner.scoring.judge import (
    MONEY,
    RUNGS,
    Measured,
    Report,
    report_on,
    weighted,
    worth,
)
from idle_harbor.core.tuner.scoring.scores import Score, Slot
from idle_harbor.core.tuner.scoring.trials import Trial
from idle_harbor.core.tuner.search.rules import Rule, simple_rules
from idle_harbor.core.tuner.search.search import Search
from idle_harbor.core.tuner.search.starts import safest
from idle_harbor.core.tuner.study import SEARCHED_FROM
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_of

T = TypeVar("T")

EVERYTHING: tuple[Freedom, ...] = ("schedule", "timeouts", "limit", "hosts", "size")
#: Weeks by which the other ways judge a design, and seeds that nobody has searched with.
_JUDGED, _FRESH, _FRESH_FROM = 6, 48, 9_000_001


@dataclass(frozen=True, slots=True)
class Found:
    """What one way found: its name, weeks used, seconds, and what fresh weeks say."""

    way: str
    weeks: int
    seconds: float
    report: Report


def studied(plan: Plan, question: Question) -> tuple[Answer, float]:
    """The Tuner's own answer, and how long it took."""
    begun = time.perf_counter()
    answer = tune(plan, question)
    return answer, time.perf_counter() - begun


class _Bench:
    def __init__(self, plan: Plan, question: Question) -> None:
        self.plan, self.question = plan, question
        self.study = Study(plan, question)
        self.today = design_of(plan, question.pool)
        self.bounds = self.study.bounds(self.today)
        self.promise = promise_of(plan, question.pool)
        self.search = Search(
            question.weeks, [self.promise], self.bounds, 1, SEARCHED_FROM, self.today
        )
        self.drive(self.search.excuse(self.search.possible(safest(self.today, self.bounds))))
        self.used = 0
        self.usual = 0.0
        self.usual = weighted(self.measure(self.today), question.weeks, MONEY)

    def measure(self, design: Design, many: int = _JUDGED, first: int = SEARCHED_FROM) -> Measured:
        slots = tuple(Slot(0, first + k) for k in range(many))
        scores = in_threads(lambda s: self.study.tried.scores(design, [s])[0], slots)
        self.used += many
        return Measured(slots, tuple(scores))

    def worth(self, design: Design) -> float:
        measured = self.measure(design)
        return worth(
            measured,
            self.question.weeks,
            self.promise,
            1.5,
            usual=self.usual,
            safest=self.search.safest,
        )

    def told(self, design: Design) -> Report:
        return report_on(
            self.measure(design, _FRESH, _FRESH_FROM), self.question.weeks, self.promise
        )

    def drive(self, asking: Generator[list[Trial], list[list[Score]], T]) -> T:
        """What a search of the Tuner's comes to, its trials worked out here."""
        scores: list[list[Score]] | None = None
        while True:
            try:
                trials = asking.send(scores)  # type: ignore[arg-type]
            except StopIteration as over:
                return cast(T, over.value)
            scores = on_threads(self.study, trials)

    def bases(self, tuned: Design) -> list[Design]:
        """The tuned plan, and the same with the timeouts that theory would have on its hosts: its
        own may be short in some hours only."""
        slots = [Slot(0, SEARCHED_FROM + k) for k in range(4)]
        lost = self.promise.lost_returns
        timed = timed_by_theory(self.study.tried, tuned, self.bounds, slots, lost)
        return list(dict.fromkeys([tuned, timed]))

    def rules(self, tuned: Design) -> list[Rule]:
        """Simple rules on the hosts of a tuned plan, with the timeouts that serve each best."""
        found = [self._rules(base) for base in self.bases(tuned)]
        return [
            min(each, key=lambda rule: self.worth(rule.design)) for each in zip(*found, strict=True)
        ]

    def _rules(self, base: Design) -> list[Rule]:
        """Simple rules with the timeouts of a design, their numbers found by all weeks of a search;
        the times of day and night too, quarter hour by quarter hour."""
        found = self.drive(simple_rules(self.search, self.study.tried, base, RUNGS[-1]))
        better = []
        for rule in found:
            best, value = rule.design, self.worth(rule.design)
            for by in (-QUARTER, QUARTER) if rule.name == "day and night" else ():
                for which in (1, 2):
                    while True:
                        moved = _moved(best, which, by)
                        if moved is None or (told := self.worth(moved)) >= value:
                            break
                        best, value = moved, told
            better.append(Rule(rule.name, best))
        return better

    def climbed(self, steps: int) -> Design:
        """Random hill climbing from the plan of today."""
        draw = Draw(np.random.default_rng(7))
        moves = [move for move, _ in moves_for(self.bounds)]
        # From a limit beyond what hosts bear nothing is allowed: it begins at what they bear.
        pool = self.today.pool
        most = min(self.bounds.density.get(pool.size, pool.session_limit), pool.session_limit)
        best = replace(self.today, pool=replace(pool, session_limit=max(most, 1)))
        value = self.worth(best)
        for _ in range(steps):
            changed = draw.one(moves)(draw, best, self.bounds)
            if changed is None:
                continue
            changed = self.search.fit(changed)
            if changed == best or not allowed(changed, self.bounds):
                continue
            found = self.worth(changed)
            if found < value:
                best, value = changed, found
        return best

    def floors(self, tuned: Design) -> Design:
        """Floors at the peak quantile on the hosts of a tuned plan, then one floor after the other,
        with the timeouts that serve them best."""
        return min(map(self._floors, self.bases(tuned)), key=self.worth)

    def _floors(self, base: Design) -> Design:
        slots = [Slot(0, SEARCHED_FROM + k) for k in range(4)]
        demand = demand_on(self.study.tried, base, slots)
        lead = lead_quarters(base.pool, base.schedule.tick_seconds)
        floors = {k: ahead(demand.quantile(k, 0.95), lead) for k in demand.by_kind}
        nothing = {k: np.zeros(QUARTERS) for k in demand.by_kind}
        band = Band(0, fill_ceiling=1.0, rule="fill")
        best = self.search.fit(guess(base, demand, floors, nothing, band, 12))
        best = replace(best, pool=base.pool)
        value, better = self.worth(best), True
        only = replace(self.bounds, free=frozenset(("schedule",)))
        while better:
            better = False
            for k in range(len(knobs_of(best, only))):
                knobs = knobs_of(best, only)
                if k >= len(knobs) or knobs[k].where[-1] != "floor":
                    continue
                for steps in (-4, -1, 1, 4):
                    changed = knobs[k].turned(best, steps)
                    if changed is not None and (found := self.worth(changed)) < value:
                        best, value, better = changed, found, True
        return best


def _moved(design: Design, which: int, by: int) -> Design | None:
    """The design with one band of each day of several beginning earlier or later."""

    def of(kind: DayType) -> DayType:
        if len(kind.bands) <= which:
            return kind
        band = kind.bands[which]
        changed = replace(band, start=band.start + by)
        return replace(kind, bands=(*kind.bands[:which], changed, *kind.bands[which + 1 :]))

    moved = design.kinds_changed(of)
    if moved == design or not days_in_order(moved):
        return None
    return moved


def compare(
    plan: Plan, pool: str, free: Sequence[Freedom], budget: int, steps: int
) -> tuple[list[Found], Answer]:
    """The ways side by side on one pool, the Tuner first, and its answer."""
    question = Question(pool, ordinary(plan), tuple(free), budget=budget)
    answer, took = studied(plan, question)
    bench = _Bench(plan, question)
    tuned = answer.nearest.design
    found = [Found("tuner", answer.weeks, took, bench.told(tuned))]
    found += [Found(rule.name, 0, 0.0, bench.told(rule.design)) for rule in bench.rules(tuned)]

    def timed(way: str, make: Callable[[], Design]) -> None:
        bench.used, begun = 0, time.perf_counter()
        design = make()
        took, weeks = time.perf_counter() - begun, bench.used
        found.append(Found(way, weeks, took, bench.told(design)))

    timed("floors, one after the other", lambda: bench.floors(tuned))
    timed("hill climbing", lambda: bench.climbed(steps))
    found.append(Found("today", 0, 0.0, bench.told(bench.today)))
    return found, answer


def lines(
    name: str, plan: Plan, pool: str, free: Sequence[Freedom], budget: int, steps: int
) -> Iterator[str]:
    """What :func:`compare` found, a line each, and how the Tuner stands to the best rule and to the
    ideal line."""
    ways, answer = compare(plan, pool, free, budget, steps)
    for each in ways:
        money = each.report.money.mean or 0.0
        yield (
            f"{name:14} {each.way:28} {money:>9,.0f} {each.report.standing:8} "
            f"billed {each.report.billed:>7,.0f}  {each.weeks:>6,} weeks {each.seconds:6.1f} s"
        )
    tuned = ways[0].report
    money = tuned.money.mean or 0.0
    kept = [way.report.money.mean or 0.0 for way in ways[1:4] if way.report.standing == "kept"]
    line = f"{name:14} billed / ideal {tuned.billed / answer.ideal_hours:.2f}"
    if kept:
        # Licences, disks and other things that all ways need alike are no part of the ideal line.
        left = (money - answer.ideal) / max(min(kept) - answer.ideal, 1e-9)
        line += f", {1.0 - money / min(kept):.1%} below the best rule that is kept"
        line += f" (it {min(kept) / answer.ideal - 1.0:.0%} above the ideal line, {left:.0%} left)"
    yield line


def plans(names: Sequence[str]) -> Iterator[tuple[str, Plan, str]]:
    """Name, plan and pool of each of the demo's pools and of the scenarios, or of those named."""
    demo = plan_of(demo_plan())
    for pool in demo.pools:
        if not names or pool.id in names:
            yield pool.id, demo, pool.id
    for name, document in scenarios().items():
        if not names or name in names:
            yield name, plan_of(document), POOL


def main() -> None:
    """Print the table for all pools and scenarios, or for those that are named."""
    import sys

    for name, plan, pool in plans(sys.argv[1:]):
        for line in lines(name, plan, pool, EVERYTHING, 3_000, 2_000):
            print(line, flush=True)


if __name__ == "__main__":
    from idle_harbor.runtime import prepare_engine

    prepare_engine()
    main()
