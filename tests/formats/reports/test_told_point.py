"""Which plan of a study's answer is compared with that of another."""

from idle_harbor.formats.reports.studies import told_point


def point(money, standing, slack):
    told = {"name": "", "spoiled": 1.0, "standing": standing, "slack": slack}
    return {"money": {"mean": money}, **told}


def test_what_was_tuned_or_the_cheapest_of_what_comes_nearest():
    answer = {
        "current": point(90.0, "broken", 0.2),
        "rules": [point(80.0, "at risk", 0.98)],
        "front": [point(10.0, "broken", 0.1), point(20.0, "at risk", 0.5),
                  point(30.0, "at risk", 0.97), point(40.0, "at risk", 1.0)],
        "tuned": None,
    }  # fmt: skip
    assert told_point(answer)["money"]["mean"] == 30.0
    tuned = point(35.0, "kept", 1.2)
    assert told_point({**answer, "tuned": tuned}) is tuned
