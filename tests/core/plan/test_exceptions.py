"""What one pool has otherwise than the schedule that it shares: for it, as if the schedule said so;
for the others, as if nobody had said anything."""

import json
from dataclasses import fields, replace
from pathlib import Path

import pytest

from idle_harbor.core.checks import findings_of
from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan.edits import changed
from idle_harbor.core.plan.lookup import find_pool, schedule_of, shared_schedule
from idle_harbor.core.plan.schedules import (
    Band,
    BandException,
    ReadyBy,
    ReadyByException,
    as_in_pool,
)
from idle_harbor.core.rules.whole import faults_of
from idle_harbor.core.sentences.schedule import Token, band_said, schedule_lines, target_said
from idle_harbor.core.sentences.table import schedule_table
from idle_harbor.core.weeks.summary import simulate
from idle_harbor.formats.plan.codec import plan_of, read_edit, read_plan
from tests.core.plans import document

#: A value that says something in the first workday band but one of the small plan.
BAND = {
    "floor": 2, "floor_share": 0.7, "fill_ceiling": 0.3, "headroom": 30, "headroom_share": 0.9,
    "lid": 5, "session_limit": 3, "knock": True, "rule": "fill", "mark": 0.3, "release": "drain",
    "margin": 3, "least_run_minutes": 600, "draining_most": 1, "draining_share": 0.1,
}  # fmt: skip
#: What the band says besides, for the others to be in force.
NEEDS = {
    "mark": {"rule": "fill to a mark"},
    "margin": {"release": "when empty", "floor": 0, "headroom": 0},
    "least_run_minutes": {"release": "when empty", "floor": 0, "headroom": 0},
    "draining_most": {"release": "drain", "floor": 0, "headroom": 0},
    "draining_share": {"release": "drain", "floor": 0, "headroom": 0},
    "knock": {"floor": 0, "headroom": 0},
    "lid": {"floor": 0},
    # So many that it tells whose turn is next.
    "headroom_share": {"floor": 0},
    "floor": {"headroom": 0},
}  # fmt: skip
TARGET = {"hosts": 9, "share": 1.0}

PART = {"what": "pool", "part": "main"}


def told(value, field, part="bands", exception=False, needs=()):
    """Two pools on one schedule, of which one or both have another value of a field."""
    given = document()
    pool = given["pools"][0] | {"start": {"mean_seconds": 900, "cv": 0.2}}
    given["pools"] = [pool, pool | {"id": "other"}]
    given["access"].append({"group": "people", "pool": "other"})
    day = given["schedules"][0]["day_types"][0]
    day["ready_by"] = [{"at": "06:00", "hosts": 3, "until": "07:00"}]
    if field.startswith("draining"):
        # Everybody is spread over all of them, and then most are too many.
        day["ready_by"] = [{"at": "07:00", "hosts": 10, "until": "11:00"}]
    thing = day[part][1 if part == "bands" else 0]
    thing |= dict(needs)
    if value is not None:
        thing |= {"exceptions": [{"pool": "main", field: value}]} if exception else {field: value}
    return plan_of(given)


def figures(plan, pool="main"):
    return simulate(plan, pool, 2)


@pytest.mark.parametrize("field", BAND)
def test_a_bands_value_for_one_pool_alone(field):
    value, needs = BAND[field], NEEDS.get(field, {})
    plain = told(None, field, needs=needs)
    own = told(value, field, exception=True, needs=needs)
    assert figures(own) == figures(told(value, field, needs=needs)) != figures(plain)
    assert figures(own, "other") == figures(plain, "other")


@pytest.mark.parametrize("field", TARGET)
def test_a_targets_value_for_one_pool_alone(field):
    plain = told(None, field)
    own = told(TARGET[field], field, "ready_by", exception=True)
    assert figures(own) == figures(told(TARGET[field], field, "ready_by")) != figures(plain)
    assert figures(own, "other") == figures(plain, "other")


def test_there_is_a_case_for_each_and_each_is_one_of_the_thing():
    for exception, thing, cases in (
        (BandException, Band, BAND),
        (ReadyByException, ReadyBy, TARGET),
    ):
        names = {each.name for each in fields(exception)} - {"pool"}
        assert names == set(cases)
        assert names <= {each.name for each in fields(thing)}


def test_a_value_of_its_own_has_the_bounds_of_the_band():
    given = document()
    given["schedules"][0]["day_types"][0]["bands"][1]["exceptions"] = [
        {"pool": "main", "fill_ceiling": 1.5, "rule": "nearest"}
    ]
    with pytest.raises(PlanError) as found:
        read_plan(given)
    assert [fault.pointer for fault in found.value.faults] == [
        "/schedules/0/day_types/0/bands/1/exceptions/0/fill_ceiling",
        "/schedules/0/day_types/0/bands/1/exceptions/0/rule",
    ]


class TestWords:
    PLAN = told(2, "floor", exception=True)
    POOL, OTHER = find_pool(PLAN, "main"), find_pool(PLAN, "other")
    SHARED = shared_schedule(PLAN, POOL)

    def test_it_is_told_as_such_with_what_the_others_have(self):
        lines = "\n".join(schedule_lines(self.SHARED, self.POOL))
        assert "keep at least 2 (here alone; else 4) of 10 hosts ready" in lines
        assert "here alone" not in "\n".join(schedule_lines(self.SHARED, self.OTHER))
        assert "keep at least 4 of 10 hosts ready" in "\n".join(
            schedule_lines(self.SHARED, self.OTHER)
        )

    def test_the_table_tells_it_too(self):
        rows = {row.label: row.cells for row in schedule_table(self.SHARED, self.POOL)[1]}
        assert rows["Floor"][1] == "2 (here alone; else 4)"

    @pytest.mark.parametrize("field", BAND)
    def test_each_can_be_taken_back_even_where_it_says_nothing(self, field):
        shares = dict.fromkeys(("floor_share", "headroom_share", "draining_share"), 0.5)
        most = {"margin": 3, "lid": 9, "session_limit": 4, "draining_most": 2}
        rules = {"release": "drain", "rule": "fill to a mark", "knock": True}
        plain = Band(0, **shares, **most, **rules, least_run_minutes=30)
        unset = getattr(Band(0), field)
        own = BandException("main", **{field: BAND[field] if unset is None else unset})
        said = band_said(replace(plain, exceptions=(own,)), self.POOL)
        (token,) = [p for p in said.parts if isinstance(p, Token) and p.field == field]
        assert token.own and token.without == {field: None}

    def test_what_one_pool_cannot_have_alone_is_told(self):
        said = band_said(Band(0, load_rules=("busy",)), self.POOL)
        alone = {p.field: p.may_be_own for p in said.parts if isinstance(p, Token)}
        assert alone["floor"] and not alone["load_rules.0"]
        offers = {each.text: each.may_be_own for each in said.offers}
        assert offers["a lid"] and not offers["timeouts of its own"]
        target = target_said(ReadyBy(0, 3), self.POOL)
        assert {p.field for p in target.parts if isinstance(p, Token) and p.may_be_own} == {"hosts"}


class TestFaults:
    def test_of_a_pool_that_is_not_there_and_of_one_twice(self):
        plan = told(2, "floor", exception=True)
        day = plan.schedules[0].day_types[0]
        own = day.bands[1].exceptions[0]
        twice = replace(day.bands[1], exceptions=(own, own, replace(own, pool="gone")))
        kinds = (replace(day, bands=(day.bands[0], twice)), *plan.schedules[0].day_types[1:])
        wrong = replace(plan, schedules=(replace(plan.schedules[0], day_types=kinds),))
        base = "/schedules/0/day_types/0/bands/1/exceptions"
        assert [(f.pointer, f.message) for f in faults_of(wrong)] == [
            (f"{base}/1/pool", "the pool 'main' is used twice"),
            (f"{base}/2/pool", "there is no pool 'gone'"),
        ]

    @pytest.mark.parametrize(
        ("field", "value", "part"),
        [
            ("floor", 11, "bands"),
            ("headroom", 900, "bands"),
            ("session_limit", 9, "bands"),
            ("lid", 1, "bands"),
            ("hosts", 11, "ready_by"),
        ],
    )
    def test_what_the_pool_cannot_have_is_told_where_it_stands(self, field, value, part):
        given = document()
        day = given["schedules"][0]["day_types"][0]
        day["ready_by"] = [{"at": "06:00", "hosts": 3}]
        place = 1 if part == "bands" else 0
        day[part][place]["exceptions"] = [{"pool": "main", field: value}]
        (fault,) = faults_of(read_plan(given))
        assert fault.pointer == f"/schedules/0/day_types/0/{part}/{place}/exceptions/0/{field}"

    def test_what_the_schedule_asks_of_others_is_no_fault_for_a_pool_that_has_it_otherwise(self):
        given = document()
        given["pools"].append(given["pools"][0] | {"id": "small", "hosts": {"standing": 2}})
        band = given["schedules"][0]["day_types"][0]["bands"][1]
        assert [f.pointer for f in faults_of(read_plan(given))] == [
            "/schedules/0/day_types/0/bands/1/floor"
        ]
        band["exceptions"] = [{"pool": "small", "floor": 1}]
        assert not faults_of(read_plan(given))

    def test_of_a_pool_with_another_schedule_it_is_a_finding(self):
        plan = changed(told(2, "floor", exception=True), own_schedule("main"))
        day = plan.schedules[0].day_types[0]
        back = replace(day.bands[1], exceptions=(BandException("main", floor=2),))
        kinds = (replace(day, bands=(day.bands[0], back)), *plan.schedules[0].day_types[1:])
        left = replace(
            plan, schedules=(replace(plan.schedules[0], day_types=kinds), plan.schedules[1])
        )
        (found,) = nowhere(left)
        assert found.pointer == "/schedules/0/day_types/0/bands/1/exceptions/0"
        assert not nowhere(plan)


def nowhere(plan):
    found = (each.finding for each in findings_of(plan))
    return [each for each in found if each.check == "exception-nowhere"]


def own_schedule(pool):
    return read_edit({"verb": "own-schedule", "pool": pool})


class TestEdits:
    PLAN = told(2, "floor", exception=True)

    def test_a_schedule_of_its_own_changes_no_figure(self):
        apart = changed(self.PLAN, own_schedule("main"))
        assert [p.schedule for p in apart.pools] == ["main-2", "main"]
        assert not any(
            e
            for s in apart.schedules
            for k in s.day_types
            for _, t in k.things()
            for e in t.exceptions
        )
        for pool in ("main", "other"):
            assert figures(apart, pool) == figures(self.PLAN, pool)
        with pytest.raises(PlanError, match="the only one with schedule"):
            changed(apart, own_schedule("main"))

    def test_a_copy_has_what_the_pool_had(self):
        both = changed(self.PLAN, read_edit({**PART, "verb": "copy-part", "name": "third"}))
        third, main = find_pool(both, "third"), find_pool(both, "main")
        assert schedule_of(both, third).day_types == schedule_of(both, main).day_types

    def test_what_was_for_a_pool_goes_with_it(self):
        left = changed(self.PLAN, read_edit({**PART, "verb": "remove-part"}))
        assert left.schedules[0].day_types[0].bands[1].exceptions == ()
        assert not faults_of(left)


#: Things with exceptions, and what each pool then has; the page's own tests read them as well.
SEEN = [
    (case, pool)
    for case in json.loads(Path(__file__).with_name("own_values.json").read_text())
    for pool in case["seen"]
]


@pytest.mark.parametrize(("case", "pool"), SEEN)
def test_a_pool_sees_its_own_values_in_place_of_the_shared_ones(case, pool):
    whole, own = {"bands": (Band, BandException), "ready_by": (ReadyBy, ReadyByException)}[
        case["thing"]
    ]
    exceptions = tuple(own(**each) for each in case["exceptions"])
    seen = as_in_pool(whole(480, **case["given"], exceptions=exceptions), pool)
    assert {name: getattr(seen, name) for name in case["seen"][pool]} == case["seen"][pool]
    assert seen.exceptions == ()
