"""Several pools under one budget or one promise: which of what was found for each to take.

Every pool has some plans to choose among, each with its money and with the hours of work that it
spoils: waited away, strained, behind slow lines. Hours are the same to everyone, so that pools can
be weighed against each other. The best choices for every amount of money are put together pool by
pool, keeping what nothing else beats in both (Nemhauser and Ullmann 1969): no choice within the
money spoils fewer hours.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from idle_harbor.core.base.stopping import go_on

#: A front of more choices is thinned to so many.
_MOST = 20_000


@dataclass(frozen=True, slots=True)
class Option:
    """A plan of one pool: what it is, money of a month that settings can change, hours of work of a
    month that it spoils, whether it keeps the pool's promise, and whether nothing comes nearer to
    that."""

    name: str
    money: float
    spoiled: float
    keeps: bool
    near: bool = True


@dataclass(frozen=True, slots=True)
class Choice:
    """One option of each pool, by its place, with what all of them come to."""

    places: tuple[int, ...]
    money: float
    spoiled: float
    keeps: bool


def choices(pools: Sequence[Sequence[Option]], *, kept: bool = False) -> list[Choice]:
    """The Pareto front of choices in money and spoiled hours, from the least money on.

    With ``kept``, only options that keep their promise are used; where a pool has none, those that
    come nearest to it.
    """
    money: NDArray[np.float64] = np.zeros(1)
    hours: NDArray[np.float64] = np.zeros(1)
    places: NDArray[np.int64] = np.zeros((1, 0), np.int64)
    for options in pools:
        go_on()
        keeping = [k for k, option in enumerate(options) if option.keeps]
        near = [k for k, option in enumerate(options) if option.near]
        usable = (keeping or near) if kept else list(range(len(options)))
        own_money = np.array([options[k].money for k in usable])
        own_hours = np.array([options[k].spoiled for k in usable])
        all_money = (money[:, np.newaxis] + own_money).ravel()
        all_hours = (hours[:, np.newaxis] + own_hours).ravel()
        best = _unbeaten(all_money, all_hours)
        before, mine = np.divmod(best, len(usable))
        money, hours = all_money[best], all_hours[best]
        places = np.column_stack((places[before], np.array(usable)[mine]))
    return [_choice(pools, tuple(int(k) for k in row)) for row in places]


def _choice(pools: Sequence[Sequence[Option]], places: tuple[int, ...]) -> Choice:
    taken = [options[k] for options, k in zip(pools, places, strict=True)]
    return Choice(
        places,
        sum(each.money for each in taken),
        sum(each.spoiled for each in taken),
        all(each.keeps for each in taken),
    )


def today_of(pools: Sequence[Sequence[Option]]) -> Choice:
    """The first option of each pool, which is the plan of today."""
    return _choice(pools, (0,) * len(pools))


def _unbeaten(money: NDArray[np.float64], hours: NDArray[np.float64]) -> NDArray[np.int64]:
    """The places of the pairs on the Pareto front, from the least money on."""
    order = np.lexsort((hours, money))
    least = np.minimum.accumulate(hours[order])
    better = np.concatenate(([True], least[1:] < least[:-1]))
    found = order[better]
    if len(found) > _MOST:
        found = found[np.unique(np.linspace(0, len(found) - 1, _MOST).round().astype(np.int64))]
    return np.asarray(found, np.int64)


def within(found: Sequence[Choice], budget: float) -> Choice | None:
    """The choice that spoils the fewest hours within a budget; None where all cost more.

    ``found`` goes from the least money on.
    """
    affordable = [each for each in found if each.money <= budget + 1e-9]
    return affordable[-1] if affordable else None


def cheapest(found: Sequence[Choice]) -> Choice | None:
    """The choice of the least money, None without any."""
    return found[0] if found else None


@dataclass(frozen=True, slots=True)
class Weighed:
    """Which option each pool gets, and what other amounts of money would change.

    ``chosen`` is None where the money does not reach; ``more`` is what some more money would do,
    None where it does nothing, ``less`` how some would be saved, None where it cannot. ``every``
    and ``keeping`` are the choices that no other beats, and of these what keeps all promises.
    """

    pools: Sequence[Sequence[Option]]
    today: Choice
    chosen: Choice | None
    more: Choice | None
    less: Choice | None
    every: Sequence[Choice]
    keeping: Sequence[Choice]

    @property
    def base(self) -> Choice:
        """What more or less money is counted from."""
        return self.chosen or self.today

    @property
    def least(self) -> Choice | None:
        """What keeping all promises costs at least."""
        return cheapest(self.keeping)

    @property
    def unkept(self) -> list[int]:
        """The places of the pools of which no option keeps the promise."""
        return [
            place
            for place, options in enumerate(self.pools)
            if not any(option.keeps for option in options)
        ]


def weigh(
    pools: Sequence[Sequence[Option]],
    budget: float | None,
    *,
    kept: bool,
    spend: float,
    save: float,
) -> Weighed:
    """Choose an option for each pool.

    Args:
        pools: the options of each pool; the first is the plan of today.
        budget: money of a month; None takes the cheapest choice, else the choice that spoils the
            fewest hours for so much.
        kept: whether only choices that keep all promises may be taken.
        spend: money a month more, whose effect is told beside the choice.
        save: money a month less, whatever promise breaks for it.
    """
    every, keeping = choices(pools), choices(pools, kept=True)
    usable = keeping if kept else every
    today = today_of(pools)
    chosen = cheapest(usable) if budget is None else within(usable, budget)
    base = chosen or today
    more = within(usable, base.money + spend)
    if more is not None and more.spoiled >= base.spoiled:
        more = None
    return Weighed(pools, today, chosen, more, within(every, base.money - save), every, keeping)


@dataclass(frozen=True, slots=True)
class PoolChange:
    """A pool in which two choices differ: by its place, with what more it costs a month, and how
    many hours more are spoiled."""

    pool: int
    money: float
    spoiled: float
    keeps: bool


def changes_between(
    pools: Sequence[Sequence[Option]], before: Choice, after: Choice
) -> list[PoolChange]:
    """The pools in which two choices differ, the most money first."""
    found = []
    for number, (options, one, two) in enumerate(
        zip(pools, before.places, after.places, strict=True)
    ):
        if one != two:
            old, new = options[one], options[two]
            change = PoolChange(number, new.money - old.money, new.spoiled - old.spoiled, new.keeps)
            found.append(change)
    return sorted(found, key=lambda each: -abs(each.money))
