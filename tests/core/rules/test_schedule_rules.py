"""What cannot be about notices and load rules, and what the checks of schedules find."""

import pytest

from idle_harbor.core.checks import schedules
from idle_harbor.core.errors import PlanError
from idle_harbor.formats.plan.codec import plan_of
from tests.changes import at, changed
from tests.core.plan.test_host_fields_matter import whole

BUSY = {"id": "busy", "signal": "cpu", "asks_at": 0.8}


def ruled(*rules, named=("busy",)):
    return f"/schedules/0/load_rules = {list(rules)}; DAY/load_rules = {list(named)}"


@pytest.mark.parametrize(
    ("change", "pointer", "says"),
    [
        ("DAY/load_rules = ['gone']", "DAY/load_rules/0", "no load rule 'gone'"),
        (ruled(BUSY, named=("busy", "busy")), "DAY/load_rules/1", "named twice"),
        (ruled(BUSY, BUSY), "/schedules/0/load_rules/1/id", "twice"),
        (ruled({"id": "busy", "signal": "cpu"}), "RULE/asks_at", "neither asks"),
        (
            ruled(BUSY | {"permits_at": 0.8}),
            "RULE/permits_at",
            "at the same value, 0.8; let hosts go below a value that is below 0.8",
        ),
        (ruled(BUSY | {"permits_at": 0.9}), "RULE/permits_at", "lets hosts go where it asks"),
        (
            ruled(BUSY | {"signal": "free slots", "asks_at": 20, "permits_at": 10}),
            "RULE/permits_at",
            "let hosts go above a value that is above 20",
        ),
        ("DAY/notice = {'minutes': 0}", "DAY/notice/minutes", "1"),
    ],
)
def test_a_schedule_that_cannot_be(change, pointer, says):
    with pytest.raises(PlanError) as caught:
        plan_of(changed(whole(), change))
    faults = {fault.pointer: fault.line() for fault in caught.value.faults}
    assert says in faults.get(at(pointer), ""), faults


def test_a_rule_of_few_free_slots_has_its_marks_the_other_way_round():
    rule = BUSY | {"signal": "free slots", "asks_at": 10, "permits_at": 20}
    plan_of(changed(whole(), ruled(rule)))


def found(*changes):
    plan = plan_of(changed(whole(), *changes))
    every = [*schedules.FAMILY.find(plan), *schedules.FAMILY.find_in_pool(plan, 0)]
    return {each.check: each for each in every}


NOTICE = "DAY/release = drain with notice; DAY/notice = {'minutes': 900}"


def test_nothing_is_found_in_a_plain_schedule():
    assert found("") == {}
    assert found("DAY/notice = {'minutes': 900}") == {}


def test_a_notice_that_is_longer_than_its_band_and_the_value_that_mends_it():
    finding = found(NOTICE)["notice-beyond-band"]
    assert finding.does.pointer == at("DAY/notice/minutes")
    bands = whole()["schedules"][0]["day_types"][0]["bands"]
    begin, end = (int(bands[k]["from"][:2]) * 60 + int(bands[k]["from"][3:]) for k in (1, 2))
    assert finding.does.value == end - begin
    assert found(NOTICE, f"DAY/notice/minutes = {end - begin}") == {}


def test_a_load_rule_that_is_at_work_nowhere():
    finding = found(ruled(BUSY, named=()))["load-rule-nowhere"]
    assert finding.pointer == "/schedules/0/load_rules/0"
    assert found(ruled(BUSY)) == {}


def test_a_load_rule_past_all_that_there_can_be():
    over = found(ruled(BUSY | {"signal": "slots in use", "asks_at": 1.0}))
    assert over["load-rule-never"].does.value == 0.9
    assert found(ruled(BUSY | {"asks_at": 1.2})) == {}  # more CPU may be wanted than there is


def target(at, hosts, lid_until=None):
    change = f"WORKDAY/ready_by = [{{'at': '{at}', 'hosts': {hosts}}}]"
    if lid_until is None:
        return change
    first = {"from": "00:00", "floor": 0, "lid": 1}
    return f"{change}; WORKDAY/bands = {[first, {'from': lid_until, 'floor': 0}]}"


def test_hosts_that_a_lid_keeps_from_starting_in_time():
    # 200 s on average, two at once, five hosts: some ten minutes in nineteen of twenty mornings.
    late = found(target("08:00", 6, "07:55"))["ready-by-too-late"]
    assert "the lid of 1 until 07:55 leaves 5 minutes" in late.message
    assert found(target("08:00", 6, "07:30")) == {}
    assert found(target("08:00", 6)) == {}


def test_hosts_that_need_more_than_a_day():
    start = {"mean_seconds": 7_000, "cv": 0.3, "parallel": 1}
    slow = found(f"/pools/0/start = {start}", target("08:00", 14))
    assert "hours after the first begins" in slow["ready-by-too-late"].message
