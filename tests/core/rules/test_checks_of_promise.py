"""Checks of what simulated weeks keep, and of what a plan leaves out."""

from idle_harbor.core.checks import findings_of
from tests.core.plans import document, plan

CALM = {"lost_returns": 1, "wait_p99_seconds": 3_600}


def found(**changes):
    return {each.finding.check: each.finding for each in findings_of(plan(**changes))}


def test_a_broken_promise_is_harm_and_names_its_parts():
    broken = found()["promise-broken"]
    assert broken.severity == "harm" and "lost returns" in broken.message
    assert "(2.00% promised)" in broken.message and "logons a week" in broken.matters
    assert not {"promise-broken", "promise-at-risk"} & found(promise=CALM).keys()


def test_people_without_a_desktop_are_counted():
    whole = document()
    hosts = {"standing": 1}
    whole["pools"] = [{**pool, "hosts": hosts} for pool in whole["pools"]]
    for kind in whole["schedules"][0]["day_types"]:
        kind["bands"] = [{"from": "00:00", "floor": 1}]
    assert "get no desktop" in found(**whole)["promise-broken"].matters


def test_what_is_left_out_is_a_doubt():
    left = found(promise=CALM)
    assert {left[check].severity for check in ("no-place", "no-image")} == {"doubt"}
    assert "no-price" not in left
    whole = document(promise=CALM)
    whole["sizes"] = [{**size, "hourly": "0"} for size in whole["sizes"]]
    assert "10 hosts" in found(**whole)["no-price"].matters


def test_surge_hosts_are_named():
    whole = document()
    hosts = {"standing": 2, "surge": 1}
    whole["pools"] = [{**pool, "hosts": hosts} for pool in whole["pools"]]
    for kind in whole["schedules"][0]["day_types"]:
        kind["bands"] = [{"from": "00:00", "floor": 1}]
    few = found(**whole)["too-few-hosts"]
    assert "3 hosts (2 standing, 1 surge) of 8 hold 24" in few.message
    assert few.mend.endswith("standing hosts beside the 1 surge host")
