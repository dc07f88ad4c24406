"""The studies of several pools weighed against each other, as JSON."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any

from idle_harbor.core.sentences.study import pools_text
from idle_harbor.core.tuner.report.together import Choice, changes_between, weigh
from idle_harbor.core.tuner.report.told import Told, options_of
from idle_harbor.formats.reports.figures import values_of

#: What is asked next: how to spend so much more a month, and how to save so much.
SPEND, SAVE = 1_000.0, 5_000.0
#: Points of the curve at most.
_CURVE = 200


def points_in(answer: Mapping[str, Any]) -> list[Mapping[str, Any]]:
    """The plans that the answer of a study tells of: today, what was tuned, the front, rules."""
    tuned = [answer["tuned"]] if answer["tuned"] else []
    return [answer["current"], *tuned, *answer["front"], *answer["rules"]]


def told_in(points: Sequence[Mapping[str, Any]]) -> list[Told]:
    """Cost, spoiled hours and standing of some points of an answer."""
    return [
        Told(each["name"], each["money"]["mean"], each["spoiled"], each["standing"], each["slack"])
        for each in points
    ]


def _curve(found: Sequence[Choice]) -> list[dict[str, Any]]:
    step = max(len(found) // _CURVE, 1)
    shown = [*found[::step], *(found[-1:] if step > 1 else [])]
    return [values_of(choice, without=("places",)) for choice in shown]


def _told(choice: Choice | None) -> dict[str, Any] | None:
    return None if choice is None else values_of(choice)


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
    pools = [options_of(told_in(points_in(answer))) for _, answer in answers]
    found = weigh(pools, budget, kept=kept, spend=spend, save=save)

    def text(one: Choice, two: Choice | None, none: str = "") -> str:
        if two is None:
            return none
        return pools_text(names, changes_between(pools, one, two), currency)

    return {
        "currency": currency,
        "pools": [
            {
                "pool": name,
                "options": [
                    {
                        **values_of(option, without=("near",)),
                        "pool": point["pool"],
                        "schedule": point["schedule"],
                    }
                    for option, point in zip(options, points_in(answer), strict=True)
                ],
            }
            for (name, answer), options in zip(answers, pools, strict=True)
        ],
        "today": _told(found.today),
        "least": None if found.least is None else found.least.money,
        "unkept": [names[place] for place in found.unkept],
        "chosen": _told(found.chosen),
        "against_today": text(found.today, found.chosen),
        "more": {
            "amount": spend,
            "choice": _told(found.more),
            "text": text(found.base, found.more)
            if found.more
            else "Nothing that was found does more for it.",
        },
        "less": {
            "amount": save,
            "choice": _told(found.less),
            "text": text(found.base, found.less)
            if found.less
            else "Nothing that was found costs so little.",
        },
        "curve": _curve(found.every),
        "kept_curve": _curve(found.keeping),
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
