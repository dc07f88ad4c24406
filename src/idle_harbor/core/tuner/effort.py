"""How a study divides the weeks that it may take: few weeks make fewer guesses, told by fewer."""

from __future__ import annotations

from dataclasses import dataclass

#: Parts of the budget by which each stage is over: first guesses, what is tried of the pool's own
#: settings, the search, and making simple what it found. The rest is for what is told.
GUESSED, ALL_OVER, SEARCHED, SIMPLE = 0.22, 0.4, 0.55, 0.77


@dataclass(frozen=True, slots=True)
class Effort:
    """``rungs``: after how many weeks of each kind a candidate may be given up, the last being how
    many there are. ``fresh`` weeks of each kind tell every point of the front, ``confirmed`` what
    is taken, by the first ``explained`` of which changes are explained. ``points`` are told at
    most, ``tries`` of them confirmed. With ``few`` weeks the likeliest guesses alone are made."""

    rungs: tuple[int, ...]
    fresh: int
    confirmed: int
    explained: int
    points: int
    tries: int
    few: bool

    @property
    def settled_by(self) -> int:
        """Weeks of each kind by which the numbers of simple rules are found."""
        return max(self.rungs[-1] // 2, 2)


_FULL = Effort((1, 2, 4, 8, 12), 16, 32, 8, 10, 4, few=False)
_LESS = Effort((1, 2, 4, 8), 12, 24, 6, 6, 3, few=True)
_LEAST = Effort((1, 2, 4), 8, 16, 4, 4, 2, few=True)


def effort_for(budget: int, kinds: int) -> Effort:
    """What a budget of candidate-weeks reaches for, with so many kinds of week that count."""
    each = budget / kinds
    if each >= 2_000:
        return _FULL
    return _LESS if each >= 900 else _LEAST
