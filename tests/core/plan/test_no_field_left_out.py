"""What is neither about people nor about hosts matters too, and no declared field is left out."""

from __future__ import annotations

import re
from datetime import date

import pytest

from idle_harbor.core.calendar.occasions import occasions_on
from idle_harbor.core.lookup import promise_of
from idle_harbor.core.plan.table import plan_fields
from idle_harbor.core.summary import simulate
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plan.test_fields_matter import CHANGES, put
from tests.core.plan.test_host_fields_matter import CASES
from tests.core.plans import document


def figures(plan):
    return simulate(plan, "main", 1)


def verdicts(plan):
    return simulate(plan, "main", 1).against(promise_of(plan, "main"))


def occasions(plan):
    return occasions_on(plan, date(2027, 3, 1))


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


def of(part):
    return lambda *path: put([part, 0, *path[:-1]], path[-1])


profile, schedule = of("profiles"), of("schedules")
BAND = ["schedules", 0, "day_types", 0, "bands", 1]
REST = {
    "week_of": (put(["week_of"], "2027-06-07"), figures),
    "promise.wait_p95_seconds": (put(["promise"], {"wait_p95_seconds": 1}), verdicts),
    "promise.refused_share": (put(["promise"], {"refused_share": 0.5}), verdicts),
    "promise.strained_share": (put(["promise"], {"strained_share": 1.0}), verdicts),
    "promise.lost_returns": (put(["promise"], {"lost_returns": 1.0}), verdicts),
    "pools.size": (larger, figures),
    "promise.forced_share": (put(["promise"], {"forced_share": 0.5}), verdicts),
    "promise.comfort": (put(["promise"], {"comfort": 0.1}), verdicts),
    **{
        f"pools.promise.{part}": (of("pools")("promise", {part: value}), verdicts)
        for part, value in (
            ("wait_p95_seconds", 1),
            ("refused_share", 0.5),
            ("strained_share", 1.0),
            ("lost_returns", 1.0),
            ("forced_share", 0.5),
            ("comfort", 0.1),
        )
    },
    "sites.holidays.own.name": (
        put(["sites", 0, "holidays", "own", 0, "name"], "Ebb day"),
        occasions,
    ),
    "profiles.cpu.mean": (profile("cpu", "mean", 0.6), figures),
    "profiles.cpu.sd": (profile("cpu", "sd", 0.9), figures),
    "profiles.cpu.idle": (profile("cpu", "idle", 2.0), figures),
    "profiles.memory_gib.active": (profile("memory_gib", {"active": 8.0}), figures),
    "profiles.memory_gib.idle": (profile("memory_gib", {"idle": 8.0}), figures),
    "profiles.memory_gib.disconnected": (profile("memory_gib", {"disconnected": 8.0}), figures),
    "profiles.logon.seconds": (profile("logon", "seconds", 60), figures),
    "profiles.logon.vcpu": (profile("logon", "vcpu", 4), figures),
    "schedules.tick_seconds": (schedule("tick_seconds", 60), figures),
    "schedules.day_types.dates": (
        put(["schedules", 0, "day_types", 1, "dates"], ["2027-03-03"]),
        figures,
    ),
    "schedules.day_types.bands.from": (put([*BAND, "from"], "06:00"), figures),
    "schedules.day_types.bands.floor": (put([*BAND, "floor"], 1), figures),
    "schedules.day_types.bands.fill_ceiling": (put([*BAND, "fill_ceiling"], 0.2), figures),
    "schedules.day_types.bands.headroom": (put([*BAND, "headroom"], 30), figures),
    "schedules.day_types.bands.rule": (put([*BAND, "rule"], "fill"), figures),
    "schedules.day_types.bands.release": (put([*BAND[:-1], 2, "release"], "keep all"), figures),
}

#: Names, sources and the currency are shown beside what they are about; the rest has tests of its
#: own: regions (Heritage Day), people who differ in a month (licences), lists from the directory,
#: what one pool has otherwise (test_exceptions), free sizes (rules), credits (pools over HTTP),
#: assigned hosts (dedicated pools).
ELSEWHERE = re.compile(
    r"name|currency|.*\.source|.*\.notice\.text|profiles\.measured\.sessions|sites\.holidays\.region"
    r"|groups\.demand\.(different_people|follows)"
    r"|sizes\.free\..*|prices\.credits|pools\.assign.*"
    r"|schedules\.day_types\.(bands|ready_by)\.exceptions\..*"
    r"|places\.offers\.size|places\.lines\.site|pools\.apps_at_logon\.app"
)


@pytest.mark.parametrize("field", REST)
def test_the_field_changes_something(field):
    change, seen = REST[field]
    after = whole()
    change(after)
    assert seen(plan_of(after)) != seen(plan_of(whole()))


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
