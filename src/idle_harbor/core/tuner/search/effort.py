"""How a study divides the weeks that it may take: few weeks make fewer guesses, told by fewer."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Effort:
    """``rungs``: after how many weeks of each kind a candidate may be given up, the last being how
    many there are. ``fresh`` weeks of each kind tell every point of the front, ``confirmed`` what
    is taken, by the first ``explained`` of which changes are explained. ``points`` are told at
    most, ``tries`` of them confirmed, more where none is kept and weeks are left. Guesses are for
    ``fills`` session limits of a host size.

    By ``guessed``, ``all_over``, ``searched`` and ``simple``, parts of the budget, first guesses
    are over, what is tried of the pool's settings, the search, and making simple what it found; the
    rest is for what is told.
    """

    rungs: tuple[int, ...]
    fresh: int
    confirmed: int
    explained: int
    points: int
    tries: int
    fills: int
    guessed: float
    all_over: float
    searched: float
    simple: float

    @property
    def settled_by(self) -> int:
        """Weeks of each kind by which the numbers of simple rules are found."""
        return max(self.rungs[-1] // 4, 2)


_FULL = Effort((1, 2, 4, 8, 16), 16, 48, 8, 10, 4, 2, 0.15, 0.25, searched=0.7, simple=0.8)
_MORE = Effort((1, 2, 4, 8, 16), 16, 48, 8, 7, 4, 2, 0.15, 0.25, searched=0.66, simple=0.76)
_LESS = Effort((1, 2, 4, 8), 12, 32, 6, 6, 3, 1, 0.3, 0.33, searched=0.52, simple=0.66)
_LITTLE = Effort((1, 2, 4), 8, 24, 4, 4, 2, 1, 0.32, 0.32, searched=0.48, simple=0.6)
_LEAST = Effort((1, 2), 4, 12, 2, 2, 2, 1, 0.3, 0.3, searched=0.34, simple=0.4)
#: Candidate-weeks for each kind of week that a study can do with.
LEAST_EACH = 200


def effort_for(budget: int, kinds: int) -> Effort:
    """What a budget of candidate-weeks reaches for, with so many kinds of week that count."""
    each = budget / kinds
    if each >= 2_000:
        return _FULL if each >= 2_800 else _MORE
    if each >= 900:
        return _LESS
    return _LITTLE if each >= 450 else _LEAST
