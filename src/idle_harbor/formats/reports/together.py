"""The studies of several pools weighed against each other, as JSON."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from idle_harbor.core.sentences.study import pools_text
from idle_harbor.core.tuner.report.together import (
    Choice,
    Option,
    changes_between,
    cheapest,
    choices,
    today_of,
    within,
)
from idle_harbor.core.tuner.scoring.judge import nearest

#: What is asked next: how to spend so much more a month, and how to save so much.
SPEND, SAVE = 1_000.0, 5_000.0
#: Points of the curve at most.
_CURVE = 200


def points_in(answer: Mapping[str, Any]) -> list[Mapping[str, Any]]:
    """The plans that the answer of a study tells of: today, what was tuned, the front, rules."""
    tuned = [answer["tuned"]] if answer["tuned"] else []
    return [answer["current"], *tuned, *answer["front"], *answer["rules"]]


def nearest_in(points: Sequence[Mapping[str, Any]]) -> list[int]:
    """The places of the plans that come nearest to their promise, the least money first."""
    return nearest([(each["standing"], each["slack"], each["money"]["mean"]) for each in points])


def _options(answer: Mapping[str, Any]) -> list[Option]:
    points = points_in(answer)
    near = nearest_in(points)
    return [
        Option(
            point["name"] or "along the front",
            point["money"]["mean"] or 0.0,
            point["spoiled"],
            point["standing"] == "kept",
            k in near,
        )
        for k, point in enumerate(points)
    ]


def _curve(found: Sequence[Choice]) -> list[dict[str, Any]]:
    step = max(len(found) // _CURVE, 1)
    shown = [*found[::step], *(found[-1:] if step > 1 else [])]
    return [{"money": c.money, "spoiled": c.spoiled, "keeps": c.keeps} for c in shown]


def _told(choice: Choice | None) -> dict[str, Any] | None:
    if choice is None:
        return None
    return {
        "money": choice.money,
        "spoiled": choice.spoiled,
        "keeps": choice.keeps,
        "places": list(choice.places),
    }


def together_values(
    answers: Sequence[tuple[str, Mapping[str, Any]]],
    currency: str,
    *,
    budget: float | None = None,
    kept: bool = True,
    spend: float = SPEND,
    save: float = SAVE,
) -> dict[str, Any]:
    """Which plan each pool gets, of what a study of each has found (its id with the answer).

    Without a ``budget`` the cheapest choice; else what spoils the fewest hours for so much money a
    month; with ``kept`` among what keeps all promises. Beside it what ``spend`` more a month would
    do, and how ``save`` would be saved with the least pain, whatever promise breaks for it.
    """
    names = [pool for pool, _ in answers]
    pools = [_options(answer) for _, answer in answers]
    every, keeping = choices(pools), choices(pools, kept=True)
    usable = keeping if kept else every
    today = today_of(pools)
    chosen = cheapest(usable) if budget is None else within(usable, budget)
    base = chosen or today

    def text(one: Choice, two: Choice) -> str:
        return pools_text(names, changes_between(pools, one, two), currency)

    more = within(usable, base.money + spend)
    if more is not None and more.spoiled >= base.spoiled:
        more = None
    less = within(every, base.money - save)
    least = cheapest(keeping)
    return {
        "currency": currency,
        "pools": [
            {
                "pool": name,
                "options": [
                    {
                        "name": o.name,
                        "money": o.money,
                        "spoiled": o.spoiled,
                        "keeps": o.keeps,
                        "pool": point["pool"],
                        "schedule": point["schedule"],
                    }
                    for o, point in zip(options, points_in(answer), strict=True)
                ],
            }
            for (name, answer), options in zip(answers, pools, strict=True)
        ],
        "today": _told(today),
        "least": None if least is None else least.money,
        "unkept": [
            name
            for name, options in zip(names, pools, strict=True)
            if not any(option.keeps for option in options)
        ],
        "chosen": _told(chosen),
        "against_today": "" if chosen is None else text(today, chosen),
        "more": {
            "amount": spend,
            "choice": _told(more),
            "text": text(base, more) if more else "Nothing that was found does more for it.",
        },
        "less": {
            "amount": save,
            "choice": _told(less),
            "text": text(base, less) if less else "Nothing that was found costs so little.",
        },
        "curve": _curve(every),
        "kept_curve": _curve(keeping),
    }


def with_chosen(document: Mapping[str, Any], together: Mapping[str, Any]) -> dict[str, Any]:
    """The document of a plan with what was chosen for each pool; as it is where nothing was."""
    changed = dict(document)
    if together["chosen"] is None:
        return changed
    pools = {each["id"]: each for each in document["pools"]}
    schedules = {each["id"]: each for each in document["schedules"]}
    for each, place in zip(together["pools"], together["chosen"]["places"], strict=True):
        option = each["options"][place]
        pools[each["pool"]] = option["pool"]
        schedules[option["schedule"]["id"]] = option["schedule"]
    return {**changed, "pools": [*pools.values()], "schedules": [*schedules.values()]}
