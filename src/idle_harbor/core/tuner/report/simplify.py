"""Simplification of a tuned design: changes that do not pay are removed again."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from idle_harbor.core.tuner.designs.design import Design
from idle_harbor.core.tuner.designs.moves import allowed
from idle_harbor.core.tuner.designs.shapes import days_in_order
from idle_harbor.core.tuner.designs.simpler import Way, much, ways
from idle_harbor.core.tuner.report.bars import Bar, NotWorthIt, few_enough
from idle_harbor.core.tuner.scoring.judge import SURE, SURER
from idle_harbor.core.tuner.scoring.trials import Finding
from idle_harbor.core.tuner.search.search import Search


def simplified(search: Search, design: Design, last: int) -> Finding[Design]:
    """Remove the changes of a design that do not pay, as long as the promise is kept by the same
    margin on the weeks of the search, until so many candidate-weeks are used."""
    yield from search.measure([design])
    aim = search.aims[0]
    if not search.keeps(design, aim):
        return design
    sure = SURER if search.keeps(design, aim, SURER) else SURE
    half = search.used + (last - search.used) // 2
    design = yield from as_simple(search, design, few_enough(search, design, half, sure))
    return (yield from as_simple(search, design, NotWorthIt(search, last, sure)))


def as_simple(search: Search, design: Design, bar: Bar) -> Finding[Design]:
    """The simplest design that passes a criterion: fewest changes from today's plan first, then
    fewest values, then fewest bands and fewest differences between them."""
    refused: set[Design] = set()
    for level in range(len(_much(search, design))):
        while not bar.over and not bar.enough(design):
            now = _much(search, design)
            tried = {
                simpler: way
                for simpler, way in _simpler(search, design).items()
                if simpler not in refused and _much(search, simpler)[level] < now[level]
            }
            ranked = yield from bar.likely(design, list(tried))
            found = yield from _taken_out(search, design, ranked, tried, bar)
            refused |= tried.keys()
            if found == design:
                break
            design = found
    return design


def _much(search: Search, design: Design) -> tuple[int, int, int]:
    return much(search.today, design, search.bounds.kinds)


def _simpler(search: Search, design: Design) -> dict[Design, Way]:
    """The designs that are simpler by one step, and the steps."""
    now, found = _much(search, design), dict[Design, Way]()
    for way in ways(search.today, design, search.bounds):
        simpler = applied(search, design, [way])
        known = simpler in found or _much(search, simpler) >= now
        if not known and allowed(simpler, search.bounds):
            found[simpler] = way
    return found


def applied(search: Search, design: Design, chosen: Sequence[Way]) -> Design:
    """The design after some steps, those left out that no longer apply."""
    for way in chosen:
        changed = way(design)
        if changed is not None and days_in_order(changed):
            design = changed
    return search.fit(design)


def _taken_out(
    search: Search,
    design: Design,
    ranked: Sequence[Design],
    tried: Mapping[Design, Way],
    bar: Bar,
) -> Finding[Design]:
    """Remove as many of some things at once as the criterion allows; where all together do not
    pass, each half is tried alone."""
    parts = [ranked] if ranked else []
    while parts and not bar.over and not bar.enough(design):
        part = parts.pop()
        changed = applied(search, design, [tried[each] for each in part])
        simpler = _much(search, changed) < _much(search, design)
        if simpler and allowed(changed, search.bounds):
            if (yield from bar.passes(design, changed)):
                design = changed
                continue
        elif changed == design:
            continue
        if len(part) > 1:
            parts += [part[len(part) // 2 :], part[: len(part) // 2]]
    return design
