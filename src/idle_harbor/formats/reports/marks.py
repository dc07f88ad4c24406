"""The picture of a study: what stands in it, where, and what is looked at first."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from idle_harbor.core.tuner.report.told import pareto_front

#: Marks that are beside what the search has found.
_BESIDE = ("today", "rule")


def _front_key(place: int) -> str:
    return f"front-{place}"


def _points(result: Mapping[str, Any]) -> Iterator[tuple[str, str, str, Mapping[str, Any]]]:
    """Key, look, name and design of each point of an answer, the plan of today first and what was
    tuned last."""
    yield "today", "today", "today", result["current"]
    for rule in result["rules"]:
        yield rule["name"], "rule", rule["name"], rule
    for place, found in enumerate(result["front"]):
        standing = found["standing"]
        yield _front_key(place), standing, f"a plan {standing} on fresh weeks", found
    if result["tuned"] is not None:
        yield "tuned", "tuned", "tuned", result["tuned"]


def _told(result: Mapping[str, Any], axis: str) -> Iterator[dict[str, Any]]:
    """The marks of an answer; a point whose place is not known is left out."""
    today = result["current"]
    for key, look, name, point in _points(result):
        across, money = point["promised"][axis], point["money"]["mean"]
        if money is None or (across["mean"] is None and not across.get("unbounded")):
            continue
        yield {
            "key": key,
            "look": look,
            "name": name,
            "across": None if across.get("unbounded") else across["mean"],
            "money": money,
            "point": point,
            "as_today": all(point[part] == today[part] for part in ("pool", "schedule")),
        }


def _so_far(found: Mapping[str, Any]) -> Iterator[dict[str, Any]]:
    """Yield the marks of a running study: today's plan, simple rules, designs found so far."""

    def mark(key: str, look: str, name: str, each: Mapping[str, Any]) -> dict[str, Any]:
        return {
            "key": key,
            "look": look,
            "name": name,
            "across": each["axis"],
            "money": each["money"],
            "point": None,
            "as_today": key == "today",
        }

    if found.get("today"):
        yield mark("today", "today", "today", found["today"])
    for rule in found.get("rules", []):
        yield mark(rule["name"], "rule", rule["name"], rule)
    for place, each in enumerate(found.get("points", [])):
        look = "search" if each["keeps"] else "broken"
        name = "found so far" + ("" if each["keeps"] else ", misses the promise")
        yield mark(f"search-{place}", look, name, each)


def _front(marks: list[dict[str, Any]]) -> set[str]:
    """The keys of what is on the Pareto front of what the search has found."""
    placed = [m for m in marks if m["look"] not in _BESIDE and m["across"] is not None]
    found = pareto_front([(mark["across"], mark["money"]) for mark in placed])
    return {placed[place]["key"] for place in found}


def marks_of(result: Mapping[str, Any], axis: str) -> list[dict[str, Any]]:
    """Everything that the picture of a study shows.

    Args:
        result: the stored answer of a study, or what is known before it.
        axis: the part of the promise that is weighed against the money.

    Returns:
        Marks with ``key``, ``look``, ``name``, ``across`` (the value on the axis; None without
        bound), ``money`` (a month), ``point`` (the design behind the mark, if any), ``as_today``
        (whether that is the plan of today) and ``front`` (whether it is on the Pareto front).
    """
    if "verdict" in result:
        marks = [*_told(result, axis)]
    else:
        marks = [*_so_far(result.get("so_far") or {})]
    front = _front(marks)
    return [{**mark, "front": mark["key"] in front} for mark in marks]


def first_mark(result: Mapping[str, Any]) -> str:
    """The key of what is looked at first: what was tuned, else what comes nearest to the promise,
    else the plan of today; empty while there is no answer."""
    if "verdict" not in result:
        return ""
    if result["tuned"] is not None:
        return "tuned"
    return "today" if result["nearest"] is None else _front_key(result["nearest"])
