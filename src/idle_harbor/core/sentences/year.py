"""What a study says of the weeks of the year."""

from __future__ import annotations

from idle_harbor.core.figures.promise import BY_FIELD, Part
from idle_harbor.core.money.words import money_text
from idle_harbor.core.sentences.listed import listed
from idle_harbor.core.tuner.report.answer import Answer
from idle_harbor.core.tuner.report.year import CheckedWeek
from idle_harbor.core.tuner.scoring.judge import Report

#: Weeks that are named one by one; of more, their number is told.
_NAMED = 3


def broken_weeks(answer: Answer) -> str:
    """Name the weeks in which the tuned plan breaks a promise that today's plan keeps, or breaks
    less; empty where there is none."""
    worse = [row for row in answer.year if row.worse]
    if not worse:
        return ""
    named = "; ".join(_broken(row) for row in worse[:_NAMED])
    more = len(worse) - _NAMED
    rest = f"; and {more} more kinds of week" if more > 0 else ""
    less = "" if all(row.today_keeps for row in worse) else ", or breaks it less"
    return (
        f"The tuned plan breaks the promise where the plan of today keeps it{less}: {named}{rest}."
    )


def over_the_year(answer: Answer) -> str:
    """Say in which weeks of the year the tuned plan keeps the promise, and which did not count."""
    told = [_excused(answer)]
    if answer.tuned is not None and not answer.year:
        told.append("No other week of the year demands more than those that were looked at.")
    if answer.year:
        counted = [row for row in answer.year if row.week.name not in _names(answer)]
        both = [row for row in counted if row.broken and not row.worse]
        if both:
            named = "; ".join(_broken(row) for row in both[:_NAMED])
            told.append(f"Both plans break the promise: {named}.")
        elif not any(row.broken for row in counted):
            many = "the one kind" if len(counted) == 1 else f"each of the {len(counted)} kinds"
            told.append(f"The tuned plan keeps the promise in {many} of week that it has to bear.")
    return " ".join(filter(None, told))


def _names(answer: Answer) -> set[str]:
    return {week.name for week in answer.excused}


def _excused(answer: Answer) -> str:
    if not answer.excused:
        return ""
    weeks = listed([f"{week.monday} ({week.name})" for week in answer.excused])
    plural = "s" if len(answer.excused) > 1 else ""
    return (
        f"In the week{plural} of {weeks} no plan with these freedoms keeps the promise, so "
        f"{'they do' if plural else 'it does'} not count."
    )


def _broken(row: CheckedWeek) -> str:
    parts = [BY_FIELD[field] for field in row.tuned.standings if _beyond(row.tuned, field)]
    figures = listed([f"{part.spoken} {_figure(row.tuned, part)}" for part in parts])
    return f"the week of {row.week.monday} ({row.week.name}), {figures or 'by little'}"


def _beyond(report: Report, field: str) -> bool:
    return report.standings[field] == "broken"


def _figure(report: Report, part: Part) -> str:
    found = report.promised[part.field]
    if found.mean is None:
        return "without bound"
    return f"{found.mean:,.0f} s" if part.timed else f"{found.mean:.1%}"


def week_text(row: CheckedWeek, currency: str) -> str:
    """Say of a kind of week how today's and the tuned plan stand in it, and what they cost."""
    today, tuned = row.today, row.tuned
    before, after = (money_text(each.money.mean or 0.0, currency) for each in (today, tuned))
    return f"today {today.standing} at {before} a month, tuned {tuned.standing} at {after}"
