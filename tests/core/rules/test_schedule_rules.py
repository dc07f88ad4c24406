"""What cannot be about notices and load rules, and what the checks of schedules find."""

from __future__ import annotations

import pytest

from idle_harbor.core.checks import schedules
from idle_harbor.core.errors import PlanError
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plan.test_host_fields_matter import both, put, whole

SCHEDULE = ["schedules", 0]
BAND = [*SCHEDULE, "day_types", 0, "bands"]
BUSY = {"id": "busy", "signal": "cpu", "asks_at": 0.8}


def ruled(*rules, named=("busy",)):
    return both(put(*SCHEDULE, "load_rules", list(rules)), put(*BAND, 1, "load_rules", list(named)))


@pytest.mark.parametrize(
    ("change", "pointer", "says"),
    [
        (
            put(*BAND, 1, "load_rules", ["gone"]),
            "/schedules/0/day_types/0/bands/1/load_rules/0",
            "no load rule 'gone'",
        ),
        (
            ruled(BUSY, named=("busy", "busy")),
            "/schedules/0/day_types/0/bands/1/load_rules/1",
            "named twice",
        ),
        (ruled(BUSY, BUSY), "/schedules/0/load_rules/1/id", "twice"),
        (
            ruled({"id": "busy", "signal": "cpu"}),
            "/schedules/0/load_rules/0/asks_at",
            "neither asks",
        ),
        (
            ruled(BUSY | {"permits_at": 0.8}),
            "/schedules/0/load_rules/0/permits_at",
            "at the same value, 0.8; let hosts go below a value that is below 0.8",
        ),
        (
            ruled(BUSY | {"permits_at": 0.9}),
            "/schedules/0/load_rules/0/permits_at",
            "lets hosts go where it asks",
        ),
        (
            ruled(BUSY | {"signal": "free slots", "asks_at": 20, "permits_at": 10}),
            "/schedules/0/load_rules/0/permits_at",
            "let hosts go above a value that is above 20",
        ),
        (
            put(*BAND, 1, "notice", {"minutes": 0}),
            "/schedules/0/day_types/0/bands/1/notice/minutes",
            "1",
        ),
    ],
)
def test_a_schedule_that_cannot_be(change, pointer, says):
    given = whole()
    change(given)
    with pytest.raises(PlanError) as caught:
        plan_of(given)
    faults = {fault.pointer: fault.line() for fault in caught.value.faults}
    assert pointer in faults and says in faults[pointer], faults


def test_a_rule_of_few_free_slots_has_its_marks_the_other_way_round():
    given = whole()
    ruled(BUSY | {"signal": "free slots", "asks_at": 10, "permits_at": 20})(given)
    plan_of(given)


def found(change):
    given = whole()
    change(given)
    plan = plan_of(given)
    every = [*schedules.FAMILY.find(plan), *schedules.FAMILY.find_in_pool(plan, 0)]
    return {each.check: each for each in every}


NOTICE = both(
    put(*BAND, 1, "release", "drain with notice"), put(*BAND, 1, "notice", {"minutes": 900})
)


def test_nothing_is_found_in_a_plain_schedule():
    assert found(both()) == {}
    assert found(both(put(*BAND, 1, "notice", {"minutes": 900}))) == {}


def test_a_notice_that_is_longer_than_its_band_and_the_value_that_mends_it():
    finding = found(NOTICE)["notice-beyond-band"]
    assert finding.does.pointer == "/schedules/0/day_types/0/bands/1/notice/minutes"
    bands = whole()["schedules"][0]["day_types"][0]["bands"]
    begin, end = (int(bands[k]["from"][:2]) * 60 + int(bands[k]["from"][3:]) for k in (1, 2))
    assert finding.does.value == end - begin
    assert found(both(NOTICE, put(*BAND, 1, "notice", {"minutes": end - begin}))) == {}


def test_a_load_rule_that_is_at_work_nowhere():
    finding = found(ruled(BUSY, named=()))["load-rule-nowhere"]
    assert finding.pointer == "/schedules/0/load_rules/0"
    assert found(ruled(BUSY)) == {}


def test_a_load_rule_past_all_that_there_can_be():
    over = found(ruled(BUSY | {"signal": "slots in use", "asks_at": 1.0}))
    assert over["load-rule-never"].does.value == 0.9
    assert found(ruled(BUSY | {"asks_at": 1.2})) == {}  # more CPU may be wanted than there is


def target(at, hosts, lid_until=None):
    changes = [put(*SCHEDULE, "day_types", 0, "ready_by", [{"at": at, "hosts": hosts}])]
    if lid_until is not None:
        first = {"from": "00:00", "floor": 0, "lid": 1}
        changes.append(put(*BAND, [first, {"from": lid_until, "floor": 0}]))
    return both(*changes)


def test_hosts_that_a_lid_keeps_from_starting_in_time():
    # 200 s on average, two at once, five hosts: some ten minutes in nineteen of twenty mornings.
    late = found(target("08:00", 6, "07:55"))["ready-by-too-late"]
    assert "the lid of 1 until 07:55 leaves 5 minutes" in late.message
    assert found(target("08:00", 6, "07:30")) == {}
    assert found(target("08:00", 6)) == {}


def test_hosts_that_need_more_than_a_day():
    start = {"mean_seconds": 7_000, "cv": 0.3, "parallel": 1}
    slow = both(put("pools", 0, "start", start), target("08:00", 14))
    assert "hours after the first begins" in found(slow)["ready-by-too-late"].message
