"""A plan whose lists were read before is read as any other."""

from copy import deepcopy
from typing import Any, NoReturn

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan import codec
from idle_harbor.formats.plan.codec import UnknownPartsError, read_plan, read_sent


def outcome(value: object) -> object:
    """The plan, or what is wrong with it."""
    try:
        return read_plan(value)
    except PlanError as error:
        return error.faults


def whole(value: object, monkeypatch: pytest.MonkeyPatch) -> object:
    """The same, where no part of it is known."""
    with monkeypatch.context() as without:
        without.setattr(codec, "_from_parts", _never)
        return outcome(value)


def _never(*_: object) -> NoReturn:
    raise ValueError("read it whole")


def at(value: Any, *path: Any) -> tuple[Any, Any]:
    for key in path[:-1]:
        value = value[key]
    return value, path[-1]


@pytest.mark.parametrize(
    ("path", "values"),
    [
        (("schedules", 0, "day_types", 0, "bands", 1, "from"), ["09:00", "09:05", "never", None]),
        (("schedules", 0, "day_types", 0, "bands", 1, "floor"), [3, 3.0, 3.5, True, "3", -1]),
        (("pools", 0, "session_limit"), [9, 9.0, float("nan"), float("inf"), 10**30, []]),
        (("sites", 0, "holidays", "country"), [None, float("nan"), "IE", 0, False]),
        (("prices", "egress_gib"), ["0.09", 0.09, "0.0900000001", None]),
        (("groups",), [[], None, {}, [None], 7]),
        (("week_of",), ["2027-03-08", "2027-13-01", None]),
        (("nothing-of-the-kind",), [1, [], {}]),
    ],
)
def test_each_edit_is_read_as_if_nothing_were_known(path, values, monkeypatch):
    plan = demo_plan()
    for _ in range(2):
        for value in values:
            holder, key = at(plan, *path)
            holder[key] = value
            assert outcome(deepcopy(plan)) == whole(plan, monkeypatch), value


def test_a_list_that_is_left_alone_is_the_same_one():
    plan = demo_plan()
    before = read_plan(plan)
    plan["schedules"][0]["day_types"][0]["bands"][1]["floor"] += 1
    after = read_plan(plan)
    assert after.groups is before.groups and after.pools is before.pools
    assert after.schedules != before.schedules


def test_documents_of_older_formats_are_read_so_too(monkeypatch):
    plan = {**demo_plan(), "format": 1}
    plan["entitlements"] = plan.pop("access")
    for _ in range(2):
        assert outcome(deepcopy(plan)) == whole(plan, monkeypatch)


def test_lists_are_left_out_by_the_names_that_they_got():
    plan = demo_plan()
    whole_plan = read_sent(plan, {})
    assert set(whole_plan.names) == {f for f, v in plan.items() if isinstance(v, list | dict)}
    plan["schedules"][0]["day_types"][0]["bands"][1]["floor"] += 1
    names = {f: n for f, n in whole_plan.names.items() if f != "schedules"}
    sent = read_sent({f: v for f, v in plan.items() if f not in names}, names)
    again = read_sent(deepcopy(plan), {})
    assert (sent.plan, sent.says) == (again.plan, again.says)
    assert sent.names == {"schedules": again.names["schedules"]}
    assert sent.names["schedules"] != whole_plan.names["schedules"]
    assert again.says["groups"] == whole_plan.says["groups"]
    assert again.says["schedules"] != whole_plan.says["schedules"]


def test_what_is_wrong_beside_lists_that_are_left_out_is_told():
    plan = demo_plan()
    names = read_sent(plan, {}).names
    schedules = deepcopy(plan["schedules"])
    schedules[0]["day_types"][0]["bands"][1]["floor"] = "many"
    rest = {f: v for f, v in plan.items() if f not in names}
    left_out = {f: n for f, n in names.items() if f != "schedules"}
    with pytest.raises(PlanError) as refused:
        read_sent({**rest, "schedules": schedules}, left_out)
    pointers = [fault.pointer for fault in refused.value.faults]
    assert pointers == ["/schedules/0/day_types/0/bands/1/floor"]


@pytest.mark.parametrize(
    ("more", "named"),
    [
        ({}, {"groups": "0" * 40}),
        ({}, {"nothing-of-the-kind": "pools"}),
        ({}, {"name": "groups"}),
        ({"groups": []}, {"groups": "groups"}),
        ({"format": 1}, {"groups": "groups"}),
    ],
)
def test_a_name_that_stands_for_nothing_is_refused(more, named):
    plan = demo_plan()
    names = read_sent(plan, {}).names
    rest = {f: v for f, v in plan.items() if f not in names}
    with pytest.raises(UnknownPartsError):
        read_sent({**rest, **more}, {f: names.get(n, n) for f, n in named.items()})
