"""What a study says of the weeks of the year."""

from dataclasses import replace
from datetime import date

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.sentences.year import broken_weeks, over_the_year, week_text
from idle_harbor.core.tuner import Counted
from idle_harbor.core.tuner.report.year import CheckedWeek
from tests.core.sentences.test_study_words import answer, point

TUNED = point(500.0, 50.0)
FAIR = Counted("fair", date(2027, 5, 10), 1.0)
OWN = Counted("ordinary", date(2027, 3, 1), 52.0)


def report(slack, standing="kept", refused=0.0):
    made = point(500.0, 50.0, standing).report
    promised = {**made.promised, "refused_share": Estimate(refused, 0.0)}
    return replace(made, slack=slack, promised=promised)


def year(*rows, excused=()):
    return replace(answer(TUNED, tuned=TUNED), year=rows, excused=excused)


def test_a_week_that_only_the_tuned_plan_breaks_is_named_first():
    row = CheckedWeek(FAIR, report(2.0), report(0.5, "broken", refused=0.032))
    assert row.broken and row.worse
    assert broken_weeks(year(row, CheckedWeek(OWN, report(2.0), report(1.4)))) == (
        "The tuned plan breaks the promise where the plan of today keeps it: the week of "
        "2027-05-10 (fair), the wait of 95 % of logons 50 s and refusals 3.2%."
    )
    assert week_text(row, "EUR") == "today kept at €500 a month, tuned broken at €500"


def test_a_week_that_both_break_is_no_news_of_the_tuned_plan():
    more = CheckedWeek(FAIR, report(0.9, "broken"), report(0.5, "broken"))
    assert more.worse and "keeps it, or breaks it less: the week of" in broken_weeks(year(more))
    row = CheckedWeek(FAIR, report(0.6, "broken"), report(0.5, "broken"))
    assert row.broken and not row.worse and broken_weeks(year(row)) == ""
    assert over_the_year(year(row)).startswith("Both plans break the promise: the week of 2027")


def test_what_is_kept_and_what_did_not_count_is_said():
    both = [CheckedWeek(week, report(2.0), report(1.4)) for week in (OWN, FAIR)]
    assert over_the_year(year(*both)) == (
        "The tuned plan keeps the promise in each of the 2 kinds of week that it has to bear."
    )
    assert over_the_year(year(both[0], excused=(FAIR,))).startswith(
        "In the week of 2027-05-10 (fair) no plan with these freedoms keeps the promise, so it "
        "does not count."
    )
    assert over_the_year(year()).startswith("No other week of the year demands more")
    assert over_the_year(replace(year(), tuned=None)) == ""
