"""The search: for each of several promises, a population of designs raced over common seeds.

Each round races children of the best designs. Every few rounds the knobs of one of the best designs
are turned one at a time, and then all those together that improved it. What is tried next depends
on scores and on a seeded random generator: the same budget gives the same answer, bit for bit,
wherever the weeks are simulated.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain
from typing import Any

import numpy as np

from idle_harbor.core.figures.promise import BY_FIELD, with_limits
from idle_harbor.core.plan import Promise
from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.drawing import Draw
from idle_harbor.core.tuner.designs.knobs import Bounds, Where, knobs_of, put
from idle_harbor.core.tuner.designs.moves import (
    Move,
    all_over,
    allowed,
    cross,
    moves_for,
    one_band_less,
    throughout,
)
from idle_harbor.core.tuner.designs.shapes import days_in_order, fitted
from idle_harbor.core.tuner.scoring.judge import RUNGS, SURE, missed
from idle_harbor.core.tuner.scoring.scores import Counted
from idle_harbor.core.tuner.scoring.trials import Asking, Finding
from idle_harbor.core.tuner.search.racing import Aim, Racing

#: Weeks of each kind that a candidate takes in a race on average: most are dropped early.
_WEEKS_EACH = 3
_CHILDREN = 16
#: How many children are drawn for a place before the number of moves grows, and its limit.
_STEPS, _FURTHER = 4, 8
#: Turning of knobs: every so many rounds, at most so many best designs and knobs, on so many weeks
#: of each kind, by one step and by this share of the value.
_TURNED_EVERY, _TURNED, _NEAR, _GLANCED, _FAR = 2, 3, 40, 1, 0.12
#: Weeks of each kind on which turns made together are evaluated before they go on to all weeks.
_LOOKED = 4
#: Parents are at most this factor worse than the best.
_NEAR_BEST = 1.15
#: Every so many rounds far variants of one of the best are tried.
_BROAD_EVERY = 4
#: Every so many rounds so many dropped candidates are resumed that miss the promise by less.
_AGAIN_EVERY, _AGAIN, _MISSED_BY_LITTLE = 3, 6, 1.0


class Search(Racing):
    """Decides what to evaluate next from the scores so far."""

    #: How often a round works on a promise beside the one of the study.
    beside = 0.3

    def __init__(
        self,
        weeks: Sequence[Counted],
        promises: Sequence[Promise],
        bounds: Bounds,
        seed: int,
        first_seed: int,
        today: Design,
        rungs: Sequence[int] = RUNGS,
    ) -> None:
        super().__init__(weeks, promises, bounds, first_seed, today, rungs)
        self.draw = Draw(np.random.Generator(np.random.Philox(seed)))
        self._moves = moves_for(bounds)
        self._tries = {move: 1.0 for move, _ in self._moves}
        self._wins = {move: 0.3 for move, _ in self._moves}
        self._round = 0
        self._swept: set[Design] = set()
        self._broad: set[Design] = set()
        self._turns: dict[str, int] = {}

    def _aim(self) -> Aim:
        """An aim at random: ``beside`` is the share of those beside the promise itself."""
        others = self.aims[1:]
        return self.draw.one(others) if others and self.draw.chance(self.beside) else self.aims[0]

    def _parent(self, aim: Aim) -> Design:
        most = _NEAR_BEST * self.worth(aim.best[0], aim)
        near = [each for each in aim.best if self.worth(each, aim) <= most]
        return near[int(self.draw.random.random() ** 2 * len(near))]

    def _move(self) -> Move:
        """A move at random, more often one that has produced better designs."""
        weights = np.array(
            [often * self._wins[move] / self._tries[move] for move, often in self._moves]
        )
        chosen = self.draw.random.choice(len(weights), p=weights / weights.sum())
        return self._moves[int(chosen)][0]

    def _child(self, further: int) -> tuple[Design, list[Move]] | None:
        """A copy of one of the best designs with some random moves, ``more`` of them than usual.
        None where it is known already or not allowed."""
        aim = self._aim()
        design = self.draw.one(aim.best) if further else self._parent(aim)
        used: list[Move] = []
        if self.draw.chance(0.12) and len(aim.best) > 1:
            design = self.fit(cross(self.draw, design, self._parent(self._aim())))
        for _ in range(self.draw.one((1, 1, 1, 2, 2, 3)) + further):
            move = self._move()
            changed = move(self.draw, design, self.bounds)
            if changed is not None:
                design, used = self.fit(changed), [*used, move]
        if design in self.known or not allowed(design, self.bounds):
            return None
        return design, used

    def _children(self) -> dict[Design, list[Move]]:
        found: dict[Design, list[Move]] = {}
        for tried in range(_STEPS * _FURTHER * _CHILDREN):
            # Where all near designs are known, children are drawn with more moves.
            child = self._child(tried // (_STEPS * _CHILDREN))
            if child is not None and child[0] not in found:
                found[child[0]] = child[1]
            if len(found) == _CHILDREN:
                break
        return found

    def neighbours(self, design: Design) -> dict[Design, tuple[Where, Any]]:
        """The designs with one knob turned a little up or down that have not been evaluated yet,
        each with the knob and its new value."""
        found: dict[Design, tuple[Where, Any]] = {}
        for knob in knobs_of(design, self.bounds):
            now = knob.read(design)
            far = (
                1
                if knob.values or not isinstance(now, (int, float))
                else (max(round(_FAR * abs(now) / knob.tuned.step), 1))
            )
            for steps in dict.fromkeys((-far, -1, 1, far)):
                turned = knob.turned(design, steps)
                if turned is None:
                    continue
                changed = fitted(turned)
                if changed not in self.known and allowed(changed, self.bounds):
                    found.setdefault(changed, (knob.where, knob.read(turned)))
        return found

    def _turned_together(self, design: Design) -> Asking:
        """Turn every knob of a design alone, on few weeks. Then race the design with all improving
        turns made at once, with the better half of them, and so on."""
        aim, few = self.aims[0], _GLANCED * len(self.weeks)
        near = self.neighbours(design)
        order = self.draw.random.permutation(len(near))[:_NEAR]
        drawn = [list(near)[k] for k in order]
        yield from self.measure(drawn, few)
        before = self.worth(design, aim, few, 0.0)
        worths = {each: self.worth(each, aim, few, 0.0) for each in drawn}
        gained: dict[Where, tuple[float, Any]] = {}
        for each in sorted(drawn, key=lambda d: worths[d]):
            where, value = near[each]
            if worths[each] < before:
                gained.setdefault(where, (worths[each], value))
        best = sorted(gained.items(), key=lambda item: item[1][0])
        many, last = len(best), design
        while many:
            turned = [(where, value) for where, (_, value) in best[:many]]
            many //= 2
            changed = self._with(design, turned)
            if changed is None or changed == last:
                continue
            last = changed
            yield from self._looked(changed)
            if not self.better(changed, design, aim, _LOOKED * len(self.weeks)):
                continue
            changed = yield from self._further(design, changed, turned)
            yield from self.measure([changed])
            self.also(changed)
            if self.better(changed, design, aim, len(self.slots)):
                return
        self._swept.add(design)

    def _with(self, design: Design, turned: Sequence[tuple[Where, Any]]) -> Design | None:
        """A design with other values of some knobs; None where it is not allowed."""
        for where, value in turned:
            design = put(design, where, value)
        if not days_in_order(design):
            return None
        design = self.fit(design)
        return design if allowed(design, self.bounds) else None

    def _further(
        self, design: Design, changed: Design, turned: Sequence[tuple[Where, Any]]
    ) -> Finding[Design]:
        """Repeat a change, twice as far each time, while the design gets better (pattern moves:
        Hooke and Jeeves 1961)."""
        aim, many = self.aims[0], _LOOKED * len(self.weeks)
        knobs = {knob.where: knob for knob in knobs_of(changed, self.bounds)}
        ways = [
            (knobs[where], value - now)
            for where, value in turned
            if where in knobs
            and not knobs[where].values
            and isinstance(now := knobs[where].read(design), int | float)
        ]
        by = 1
        while ways:
            on = []
            still = {knob.where for knob in knobs_of(changed, self.bounds)}
            for knob, way in ways:
                step = round(by * way / knob.tuned.step)
                # Bands that have become equal are merged by now.
                there = step and knob.where in still
                further = knob.turned(changed, step) if there else None
                if further is not None:
                    on.append((knob.where, knob.read(further)))
            next_one = self._with(changed, on)
            if next_one is None or next_one == changed:
                break
            yield from self._looked(next_one)
            if not self.better(next_one, changed, aim, many):
                break
            changed, by = next_one, 2 * by
        return changed

    def _looked(self, design: Design) -> Asking:
        """Evaluate a design on the few weeks that decide whether it is evaluated on all."""
        yield from self.measure([design], _LOOKED * len(self.weeks))
        if self.through(design):
            self.also(design)

    def _leaders(self) -> list[Design]:
        """The designs to work on: the best of each host size that is near the best of all, and the
        next ones after it."""
        aim = self.aims[0]
        most = _NEAR_BEST * self.worth(aim.best[0], aim)
        of_size: dict[str, Design] = {}
        for each in aim.best:
            if self.worth(each, aim) <= most:
                of_size.setdefault(each.pool.size, each)
        # A design that is much cheaper and misses the promise by little may be repaired.
        paid = self.money(aim.best[0])
        near = [
            each
            for each in aim.best
            if self.money(each) * _NEAR_BEST < paid
            and missed(self.known[each], self.weeks, aim.promise, SURE, self.safest)
            <= _MISSED_BY_LITTLE
        ]
        return list(dict.fromkeys((*of_size.values(), *near[:1], *aim.best[:_TURNED])))

    def _next_to_turn(self) -> Design | None:
        """The best design that has knobs left to turn; host sizes take turns."""
        left = [each for each in self._leaders() if each not in self._swept]
        chosen = min(left, key=lambda each: self._turns.get(each.pool.size, 0), default=None)
        if chosen is not None:
            size = chosen.pool.size
            self._turns[size] = self._turns.get(size, 0) + 1
        return chosen

    def _broadly(self, design: Design) -> list[Design]:
        """Variants of a design far from it: each setting of the pool over its whole range, each
        setting of the schedule all day, and the schedule with one band less."""
        bounds = self.bounds
        broad = chain(
            throughout(design, bounds), one_band_less(design, bounds), all_over(design, bounds)
        )
        return [each for each in self.possible(broad) if each not in self.known]

    def all_over(self, most: int) -> Asking:
        """Race far variants of the best design of each host size, until so many weeks are used."""
        for _ in range(2):
            if self.over(most):
                return
            before = list(self.aims[0].best)
            by_size: dict[str, Design] = {}
            for each in before:
                by_size.setdefault(each.pool.size, each)
            over = [each for best in by_size.values() for each in self._broadly(best)]
            yield from self.race(over[: (most - self.used) // (_WEEKS_EACH * len(self.weeks))])
            if self.aims[0].best[0] == before[0]:
                return

    def _one_broadly(self) -> Asking:
        """Race some of the far variants of one of the best designs."""
        for best in self._leaders():
            if best not in self._broad:
                over = self._broadly(best)
                if len(over) <= _NEAR:
                    self._broad.add(best)
                order = self.draw.random.permutation(len(over))[:_NEAR]
                yield from self.race([over[k] for k in order])
                return

    def _once_more(self) -> Asking:
        """Resume some cheap candidates that were dropped because they missed the promise by little
        on their first weeks: on all weeks they may keep it."""
        aim = self.aims[0]
        best = aim.best[0]
        found: list[tuple[float, float, Design]] = []
        for design, measured in self.known.items():
            many = len(measured.slots)
            if many == len(self.slots) or many < len(self.weeks):
                continue
            money = self.money(design)
            if money < self.money(best, many):
                missing = missed(measured, self.weeks, aim.promise, safest=self.safest)
                if missing <= _MISSED_BY_LITTLE:
                    found.append((missing, money, design))
        found.sort(key=lambda each: each[:2])
        for _, _, design in found[:_AGAIN]:
            many = len(self.known[design].slots)
            yield from self.measure([design], min(2 * many, len(self.slots)))
            if self.through(design) or self.better(design, best, aim, 2 * many):
                yield from self.measure([design])
                self.also(design)

    def go_on(self, most: int) -> Asking:
        """Search until so many candidate-weeks are used, or the search has to end early."""
        while not self.over(most):
            self._round += 1
            if self._round % _TURNED_EVERY == 0 and (near := self._next_to_turn()) is not None:
                yield from self._turned_together(near)
                continue
            if self._round % _BROAD_EVERY == 1:
                yield from self._one_broadly()
                continue
            if self._round % _AGAIN_EVERY == 0:
                yield from self._once_more()
            children = self._children()
            if not children:
                return
            before = {id(aim): set(aim.best) for aim in self.aims}
            yield from self.race(list(children))
            for design, used in children.items():
                won = any(design in aim.best and design not in before[id(aim)] for aim in self.aims)
                for move in used:
                    self._tries[move] += 1.0
                    self._wins[move] += float(won)


def axis_promises(promise: Promise, part: str, factors: Sequence[float]) -> list[Promise]:
    """The promise, and copies in which one part is stricter or looser.

    Args:
        promise: the promise.
        part: the field of the part.
        factors: each gives a copy; below 1 it is stricter, above 1 looser.
    """
    axis, found = BY_FIELD[part], [promise]
    limit = axis.limit(promise)
    if limit is None:
        return found
    for factor in factors:
        changed = with_limits(promise, {part: axis.scaled(limit, factor)})
        if changed not in found:
            found.append(changed)
    return found
