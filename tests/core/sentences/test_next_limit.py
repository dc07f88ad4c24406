"""What one session more or fewer on a host would do, by hand."""

from dataclasses import replace

from idle_harbor.core.figures.intervals import Estimate
from idle_harbor.core.sentences.next_limit import next_limit
from tests.core.sentences.test_study_words import TODAY, answer, point

OWN = TODAY.pool.session_limit


def at(limit, money, strained, standing="kept"):
    found = point(money, 50.0, standing)
    promised = found.report.promised | {"strained_share": Estimate(strained, 0.0)}
    report = replace(found.report, promised=promised)
    pool = replace(TODAY.pool, session_limit=limit)
    return replace(found, name=str(limit), report=report, design=replace(found.design, pool=pool))


def said(*by_limit):
    return next_limit(replace(answer(tuned=at(OWN, 500.0, 0.0024)), by_limit=by_limit), "EUR")


def test_strain_is_a_cliff_beyond_the_limit():
    found = said(
        at(OWN - 1, 530.0, 0.0024), at(OWN, 500.0, 0.0024), at(OWN + 1, 480.0, 0.64, "broken")
    )
    assert found == (
        f"With {OWN + 1} sessions on a host instead of {OWN} it costs €20 a month less, with "
        "strained work 64.00% instead of 0.24%, which breaks the promise; "
        f"with {OWN - 1} sessions on a host instead of {OWN} it costs €30 a month more."
    )


def test_nothing_is_said_where_nothing_was_tried():
    assert said() == "" and next_limit(answer(tuned=None), "EUR") == ""
    assert said(at(OWN, 500.0, 0.0)) == ""
