"""What is neither about people nor about hosts matters too, and no declared field is left out."""

import re
from datetime import date

import pytest

from idle_harbor.core.calendar.occasions import occasions_on
from idle_harbor.core.plan.lookup import promise_of
from idle_harbor.core.plan.table import plan_fields
from idle_harbor.core.weeks.summary import simulate
from idle_harbor.formats.plan.codec import plan_of
from tests.changes import changed, several
from tests.core.plan.test_fields_matter import CHANGES
from tests.core.plan.test_host_fields_matter import CASES
from tests.core.plans import document


def figures(plan):
    return simulate(plan, "main", 1)


def verdicts(plan):
    return simulate(plan, "main", 1).against(promise_of(plan, "main"))


def occasions(plan):
    return occasions_on(plan, date(2027, 3, 1))


def night_begins_at_noon(given):
    """The first schedule's days begin at noon: its quiet morning bands are the day before's."""
    given["schedules"][0]["day_begins"] = "12:00"
    for kind in given["schedules"][0]["day_types"]:
        *_, last = (band for band in kind["bands"] if band["from"] <= "12:00")
        later = [band for band in kind["bands"] if band["from"] > "12:00"]
        early = [band for band in kind["bands"] if band["from"] < "12:00"]
        kind["bands"] = [last | {"from": "12:00"}, *later, *early]


def whole():
    """A tight pool with a holiday of its own, whose people wait and whose hosts are strained."""
    given = document()
    given["pools"][0]["hosts"] = {"standing": 5}
    given["sites"][0]["holidays"] = {"own": [{"day": "2027-03-01", "name": "Quay day"}]}
    given["profiles"][0] |= {
        "cpu": {"mean": 0.5, "sd": 0.3, "idle": 0.05},
        "logon": {"seconds": 40, "vcpu": 1.5},
    }
    return given


def larger(given):
    """The pool on hosts of another size."""
    given["sizes"].append(given["sizes"][0] | {"id": "larger", "vcpu": 16})
    given["pools"][0]["size"] = "larger"


PARTS = (
    *(("wait_p95_seconds", 1), ("wait_p99_seconds", 1), ("first_comer_seconds", 1)),
    *(("own_wait_seconds", 1), ("lost_work_share", 0.5)),
    *(("refused_share", 0.5), ("strained_share", 1.0)),
    *(("lost_returns", 1.0), ("forced_share", 0.5), ("comfort", 0.1)),
)
REST = {
    "week_of": "/week_of = 2027-06-07",
    "pools.size": larger,
    **{f"promise.{part}": (f"/promise = {{'{part}': {value}}}", verdicts) for part, value in PARTS},
    **{
        f"pools.promise.{part}": (f"POOL/promise = {{'{part}': {value}}}", verdicts)
        for part, value in PARTS
    },
    "sites.holidays.own.name": ("/sites/0/holidays/own/0/name = Ebb day", occasions),
    "profiles.cpu.mean": "PROFILE/cpu/mean = 0.6",
    "profiles.cpu.sd": "PROFILE/cpu/sd = 0.9",
    "profiles.cpu.idle": "PROFILE/cpu/idle = 2.0",
    "profiles.memory_gib.active": "PROFILE/memory_gib = {'active': 8.0}",
    "profiles.memory_gib.idle": "PROFILE/memory_gib = {'idle': 8.0}",
    "profiles.memory_gib.disconnected": "PROFILE/memory_gib = {'disconnected': 8.0}",
    "profiles.logon.seconds": "PROFILE/logon/seconds = 60",
    "profiles.logon.vcpu": "PROFILE/logon/vcpu = 4",
    "schedules.tick_seconds": "/schedules/0/tick_seconds = 60",
    "schedules.day_begins": night_begins_at_noon,
    "schedules.day_types.dates": "REST_DAY/dates = ['2027-03-03']",
    "schedules.day_types.bands.from": "DAY/from = 06:00",
    "schedules.day_types.bands.floor": "DAY/floor = 1",
    "schedules.day_types.bands.fill_ceiling": "DAY/fill_ceiling = 0.2",
    "schedules.day_types.bands.headroom": "DAY/headroom = 30",
    "schedules.day_types.bands.rule": "DAY/rule = fill",
    "schedules.day_types.bands.release": "EVENING/release = keep all",
}

#: Names, sources and the currency are shown beside what they are about; the rest has tests of its
#: own: regions (Heritage Day), people who differ in a month (licences), lists from the directory,
#: what one pool has otherwise (test_exceptions), free sizes (rules), credits (pools over HTTP),
#: assigned hosts (dedicated pools), quotas that are asked for (checks), assumed values.
ELSEWHERE = re.compile(
    r"(.*\.)?name|currency|assumed|.*\.source|.*\.notice\.text|profiles\.measured\.sessions|sites\.holidays\.region"
    r"|groups\.demand\.(different_people|follows)"
    r"|sizes\.free\..*|sizes\.quota_asked\..*|prices\.credits|pools\.assign.*"
    r"|schedules\.day_types\.(bands|ready_by)\.exceptions\..*"
    r"|places\.offers\.size|places\.lines\.site|pools\.apps_at_logon\.app"
)


@pytest.mark.parametrize("field", REST)
def test_the_field_changes_something(field):
    change, seen, *_ = (*several(REST[field]), figures)
    assert seen(plan_of(changed(whole(), change))) != seen(plan_of(whole()))


def test_no_field_is_left_out():
    missing = [
        field.path
        for field in plan_fields()
        if field.path not in CHANGES.keys() | CASES.keys() | REST.keys()
        and not ELSEWHERE.fullmatch(field.path)
    ]
    assert missing == []


def test_every_case_is_about_a_field_that_there_is():
    paths = {field.path for field in plan_fields()}
    inner = {path.rsplit(".", depth)[0] for path in paths for depth in (1, 2)}
    wrong = [case for case in (*CASES, *REST) if case not in paths | inner]
    assert wrong == []
