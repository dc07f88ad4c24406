"""How a study divides its budget of candidate-weeks."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Effort:
    """The effort of a study.

    Weeks of each kind: ``rungs`` are the numbers after which a candidate may be dropped (the last
    is all of them), ``fresh`` evaluates every point of the front, ``confirmed`` the design that is
    taken, and the first ``explained`` of these explain its changes.

    Numbers: at most ``points`` on the front, of which ``tries`` are confirmed (more where none is
    kept and weeks are left); guesses for ``fills`` session limits of each host size.

    Shares of the budget at which a stage ends: ``guessed`` for guesses, ``all_over`` for the pool's
    settings one by one, ``searched`` for the search, ``simple`` for simplification. The rest is for
    the report.
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
        """Weeks of each kind on which the numbers of simple rules are found."""
        return max(self.rungs[-1] // 4, 2)


_FULL = Effort((1, 2, 4, 8, 16), 16, 48, 8, 10, 4, 2, 0.15, 0.25, searched=0.7, simple=0.8)
_MORE = Effort((1, 2, 4, 8, 16), 16, 48, 8, 7, 4, 2, 0.15, 0.25, searched=0.66, simple=0.76)
_LESS = Effort((1, 2, 4, 8), 12, 32, 6, 6, 3, 1, 0.3, 0.33, searched=0.52, simple=0.66)
_LITTLE = Effort((1, 2, 4), 8, 24, 4, 4, 2, 1, 0.32, 0.32, searched=0.48, simple=0.6)
_LEAST = Effort((1, 2), 4, 12, 2, 2, 2, 1, 0.26, 0.26, searched=0.3, simple=0.35)
#: The least budget of a study, in candidate-weeks for each kind of week.
LEAST_EACH = 200


def effort_for(budget: int, kinds: int) -> Effort:
    """The effort that a budget of candidate-weeks allows, with so many kinds of week."""
    each = budget / kinds
    if each >= 2_000:
        return _FULL if each >= 2_800 else _MORE
    if each >= 900:
        return _LESS
    return _LITTLE if each >= 450 else _LEAST
