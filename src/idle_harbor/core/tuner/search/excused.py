"""Weeks in which no plan keeps the promise: a study leaves them out, and says so."""

from __future__ import annotations

from idle_harbor.core.tuner.scoring.judge import Measured, missed
from idle_harbor.core.tuner.scoring.trials import Finding
from idle_harbor.core.tuner.search.racing import Racing
from idle_harbor.core.tuner.search.starts import safest

#: A miss beyond that in the first week by less than this, in units of the limits, is chance.
_MISS = 0.02


def excused(racing: Racing) -> Finding[list[int]]:
    """Return the places of the excusable weeks in which even the safest plans miss the promise by
    more than in the first week.

    Args:
        racing: the weeks, the promise and the bounds; all its rungs are used.
    """
    weeks, promise = racing.weeks, racing.aims[0].promise
    if not any(week.excusable for week in weeks):
        return []
    designs = racing.possible(safest(racing.today, racing.bounds))
    yield from racing.measure(designs)

    def least(week: int) -> float:
        found = []
        for design in designs:
            measured = racing.known[design]
            rows = zip(measured.slots, measured.scores, strict=True)
            own = [(slot, score) for slot, score in rows if slot.week == week]
            alone = Measured(tuple(slot for slot, _ in own), tuple(score for _, score in own))
            found.append(missed(alone, weeks, promise))
        return min(found, default=0.0)

    usual = least(0) + _MISS
    return [k for k, week in enumerate(weeks) if week.excusable and least(k) > usual]
