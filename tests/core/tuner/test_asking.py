"""What is wrong with a question is said before anything is simulated."""

from math import inf, nan

import pytest

from idle_harbor.core.errors import PlanError, UnknownNameError
from idle_harbor.core.tuner import Question, ordinary
from idle_harbor.core.tuner.asking import checked_question, pools_with_people, turnable_paths
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plans import document

FLOOR = "schedules.day_types.bands.floor"


def ask(plan=None, **more):
    plan = plan or plan_of(document())
    return checked_question(plan, Question(more.pop("pool", "main"), ordinary(plan), **more))


def test_a_field_may_be_named_by_the_end_of_its_path():
    asked = ask(locked=("floor", "bands.headroom"), within=(("floor", 1, 5),))
    assert asked.locked == (FLOOR, "schedules.day_types.bands.headroom")
    assert asked.within == ((FLOOR, 1, 5),)
    assert all(ask(locked=(path,)).locked == (path,) for path in turnable_paths())


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"within": (("floor", 5, 2),)}, "the wrong way round"),
        ({"within": (("floor", -3, -1),)}, "beyond what the field may be"),
        ({"within": (("floor", nan, 3),)}, "needs two numbers"),
        ({"within": (("floor", 0, inf),)}, "needs two numbers"),
        ({"within": (("floor", 0.5, 3),)}, "takes whole numbers"),
        ({"within": (("fill_ceiling", 0.5, 1.7),)}, "beyond what the field may be"),
        ({"within": (("rule", 0, 1),)}, "is no number"),
        ({"within": (("flor", 0, 1),)}, "did you mean schedules.day_types.bands.floor?"),
        ({"locked": ("weather",)}, "no field that a study may change is called 'weather'"),
        ({"locked": ("minutes.at", "exceptions.floor")}, "called 'exceptions.floor'"),
        ({"axis": "mood"}, "no part of the promise"),
        ({"free": ("weather",)}, "cannot be given free"),
        ({"free": ()}, "nothing may change"),
        ({"budget": 199}, "too few"),
        ({"seed": -5}, "cannot be the number of a search"),
    ],
)
def test_what_cannot_be_asked_is_said(wrong, said):
    with pytest.raises(PlanError) as error:
        ask(**wrong)
    assert said in str(error.value)


def test_every_fault_is_said_at_once():
    with pytest.raises(PlanError) as error:
        ask(axis="mood", seed=-1, within=(("floor", 5, 2),))
    assert [each.pointer for each in error.value.faults] == ["/axis", "/seed", "/within"]


def test_a_pool_to_which_nobody_comes_has_no_study():
    values = document()
    values["access"] = []
    plan = plan_of(values)
    assert pools_with_people(plan) == []
    with pytest.raises(PlanError, match="nobody comes to main"):
        ask(plan)
    with pytest.raises(UnknownNameError):
        ask(pool="nobody")
