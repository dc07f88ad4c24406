"""What stands in the picture of a study, by hand."""

from idle_harbor.formats.reports.marks import first_mark, marks_of

AXIS = "wait_p95_seconds"


def about(mean, unbounded=False):
    return {"mean": mean, "low": None, "high": None, "unbounded": unbounded}


def point(name, money, wait, standing="kept", **settings):
    return {
        "name": name,
        "money": about(money),
        "promised": {AXIS: about(wait, wait is None)},
        "standing": standing,
        "pool": settings or {"idle": 900},
        "schedule": {},
    }


ANSWER = {
    "verdict": "…",
    "current": point("today", 500.0, 90.0, "broken"),
    "rules": [point("always on", 900.0, 20.0, idle=0)],
    "front": [
        point("", 300.0, None, "broken", idle=1),
        point("", 400.0, 40.0, idle=2),
        point("", 410.0, 50.0, idle=3),
        point("", 390.0, 60.0, idle=4),
    ],
    "tuned": point("tuned", 401.0, 41.0, idle=5),
    "nearest": None,
}


def test_today_is_first_and_what_was_tuned_last():
    marks = marks_of(ANSWER, AXIS)
    looks = ["today", "rule", "broken", "kept", "kept", "kept", "tuned"]
    assert [mark["look"] for mark in marks] == looks
    assert (marks[2]["across"], marks[-1]["money"]) == (None, 401.0)
    assert [mark["as_today"] for mark in marks] == [True] + [False] * 6


def test_the_front_has_what_nothing_else_beats():
    # 410 waits longer than 400 and costs more; without bound nothing is on the front.
    front = [mark["money"] for mark in marks_of(ANSWER, AXIS) if mark["front"]]
    assert front == [400.0, 390.0]


def test_a_point_that_is_not_known_has_no_place():
    odd = {**ANSWER, "rules": [{**point("odd", None, 1.0)}, {**point("odd", 1.0, 1.0)}]}
    odd["rules"][1]["promised"] = {AXIS: about(None)}
    assert "odd" not in [mark["name"] for mark in marks_of(odd, AXIS)]


def test_before_the_answer_stands_what_was_found_so_far():
    points = [{"money": 300, "axis": 50, "keeps": True}, {"money": 2, "axis": 9, "keeps": False}]
    marks = marks_of({"so_far": {"points": points}}, AXIS)
    assert [(mark["look"], mark["front"]) for mark in marks] == [
        ("search", False),
        ("broken", True),
    ]
    beside = {"today": points[1], "rules": [{"name": "always on", **points[0], "axis": None}]}
    marks = marks_of({"so_far": {"points": points, **beside}}, AXIS)
    assert [(m["key"], m["look"], m["across"]) for m in marks[:2]] == [
        ("today", "today", 9),
        ("always on", "rule", None),
    ]
    assert marks_of({}, AXIS) == []


def test_what_was_tuned_is_looked_at_first_else_what_comes_nearest():
    assert first_mark(ANSWER) == "tuned"
    assert first_mark({**ANSWER, "tuned": None, "nearest": 2}) == "front-2"
    assert first_mark({**ANSWER, "tuned": None}) == "today"
    assert first_mark({}) == ""
