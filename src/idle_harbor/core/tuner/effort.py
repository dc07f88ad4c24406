"""How a study divides the weeks that it may take: few weeks make fewer guesses, told by fewer."""

from __future__ import annotations

from dataclasses import dataclass

#: Parts of the budget by which first guesses are over, and what is tried of the pool's settings.
GUESSED, ALL_OVER = 0.15, 0.25


@dataclass(frozen=True, slots=True)
class Effort:
    """``rungs``: after how many weeks of each kind a candidate may be given up, the last being how
    many there are. ``fresh`` weeks of each kind tell every point of the front, ``confirmed`` what
    is taken, by the first ``explained`` of which changes are explained. ``points`` are told at
    most, ``tries`` of them confirmed. By
    ``searched`` and ``simple``, parts of the budget, the search is over, and making simple what it
    found; the rest is for what is told."""

    rungs: tuple[int, ...]
    fresh: int
    confirmed: int
    explained: int
    points: int
    tries: int
    searched: float
    simple: float

    @property
    def settled_by(self) -> int:
        """Weeks of each kind by which the numbers of simple rules are found."""
        return max(self.rungs[-1] // 4, 2)


_FULL = Effort((1, 2, 4, 8, 16), 16, 32, 8, 10, 4, searched=0.68, simple=0.8)
_LESS = Effort((1, 2, 4, 8), 12, 24, 6, 6, 3, searched=0.55, simple=0.72)
_LEAST = Effort((1, 2, 4), 8, 16, 4, 4, 2, searched=0.5, simple=0.65)


def effort_for(budget: int, kinds: int) -> Effort:
    """What a budget of candidate-weeks reaches for, with so many kinds of week that count."""
    each = budget / kinds
    if each >= 2_000:
        return _FULL
    return _LESS if each >= 900 else _LEAST
