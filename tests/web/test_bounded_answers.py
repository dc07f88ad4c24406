"""Answers and reads are bounded in bytes, whatever is asked for."""

import tracemalloc

import pytest

from idle_harbor.core.engine import tables as engine_world
from idle_harbor.core.weeks import picture
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.summary import figures_of
from idle_harbor.core.weeks.week import week, weeks
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.web.shared import problems
from tests.core.plans import document


def flapping(hosts: int, **changes):
    """Hosts that start and stop again and again: a band of floor 0, one of all, every half hour."""
    whole = document(**changes)
    bands = []
    for half in range(48):
        floor = hosts if half % 2 else 0
        bands.append(
            {
                "from": f"{half // 2:02d}:{30 * (half % 2):02d}",
                "floor": floor,
                "release": "when empty",
            }
        )
    whole["pools"][0]["hosts"] = {"standing": hosts}
    whole["pools"][0]["start"] = {"mean_seconds": 60, "cv": 0.1}
    every = ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]
    whole["schedules"] = [
        {"id": "main", "day_types": [{"id": "all", "weekdays": every, "bands": bands}]}
    ]
    return whole


def lanes(client, key, start, end):
    return client.get(f"/api/simulations/{key}/lanes?start={start}&end={end}")


def test_lanes_of_flapping_hosts_come_in_parts_that_are_the_whole(client, monkeypatch):
    """Parts of 700 changes at most, joined where each ends, are what one window has at once."""
    got = client.post("/api/simulations/week", json={"plan": flapping(40), "pool": "main"}).json
    key, day = got["input_hash"], got["days"][1]
    whole = lanes(client, key, day["start"], day["end"]).json
    assert whole["until"] == day["end"]
    monkeypatch.setattr(picture, "MOST_CHANGES", 700)
    found: dict[int, list] = {}
    actions, at, parts = [], day["start"], 0
    while at < day["end"]:
        part = lanes(client, key, at, day["end"]).json
        assert at < part["until"] <= day["end"]
        assert sum(len(lane["changes"]) for lane in part["lanes"]) <= 700 + 3 * 40
        for lane in part["lanes"]:
            known = found.setdefault(lane["host"], [])
            known += lane["changes"]
        actions += part["actions"]
        at, parts = part["until"], parts + 1
    assert parts > 2
    assert actions == whole["actions"]
    for lane in whole["lanes"]:
        # A part begins with the state that holds then, which is no change where none happens.
        again = [
            c
            for k, c in enumerate(found[lane["host"]])
            if k == 0 or c["state"] != found[lane["host"]][k - 1]["state"]
        ]
        plain = [
            c
            for k, c in enumerate(lane["changes"])
            if k == 0 or c["state"] != lane["changes"][k - 1]["state"]
        ]
        assert again == plain


@pytest.mark.parametrize(("start", "end"), [(0, 2**40), (2**40, 2**40), (2**40, 0), (0, 0)])
def test_a_window_is_cut_to_the_horizon(client, start, end):
    got = client.post("/api/simulations/week", json={"plan": flapping(3), "pool": "main"}).json
    found = lanes(client, got["input_hash"], start, end)
    assert found.status_code == 200
    first, last = got["days"][0]["start"] - 86_400, got["days"][-1]["end"]
    assert first <= found.json["until"] <= last


def test_one_answer_of_very_many_hosts_stays_small(client):
    """Three thousand hosts that flap all week: before, one answer was a tenth of a gigabyte."""
    whole = flapping(3_000)
    got = client.post("/api/simulations/week", json={"plan": whole, "pool": "main"}).json
    assert client.application.extensions["desk"]._weeks.bytes_held < 120_000_000
    found = lanes(client, got["input_hash"], 0, 2**40)
    assert len(found.data) < 12_000_000
    assert found.json["until"] < got["days"][-1]["end"]


def test_a_log_that_is_full_is_told_and_the_figures_are_the_same(monkeypatch):
    case = case_of(plan_of(flapping(40)), "main")
    usual = week(case, 1, record=True)
    monkeypatch.setattr(engine_world, "MOST_LOG", 5_000)
    cut = week(case, 1, record=True)
    assert len(cut.run.lanes) == 5_000 < len(usual.run.lanes)
    assert cut.run.recorded == usual.run.lanes["time"][5_000] < usual.run.recorded
    assert (cut.run.lanes == usual.run.lanes[:5_000]).all()
    assert (cut.run.bins == usual.run.bins).all()
    _, until = picture.window_of(cut, 0, 2**40)
    assert until == case.horizon.start + cut.run.recorded


def test_many_seeds_of_a_long_time_hold_one_week_at_a_time():
    """Sixteen seeds of a hundred days with nobody: bins of 11 MB each are let go at once."""
    whole = document()
    whole["groups"][0]["demand"]["people"] = 0
    case = case_of(plan_of(whole), "main", days=100)
    one = week(case, 1).nbytes
    tracemalloc.start()
    results = weeks(case, range(1, 17))
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    assert figures_of(case, results).seeds == 16
    assert one > 10_000_000
    assert peak < 8 * one


def test_pictures_of_very_many_groups_are_bounded(client):
    group = document()["groups"][0]
    group["demand"]["people"] = 0
    groups = [group | {"id": f"g{k}"} for k in range(500)]
    plan = document(groups=groups, access=[])
    for path, days, status in (
        ("crowd", 7, 200),
        ("crowd", 31, 422),
        ("crowd", 366, 422),
        ("year", 366, 422),
        ("range", 366, 422),
    ):
        got = client.post(
            f"/api/people/{path}",
            json={"plan": plan, "days": days, "seeds": 2}
            if path == "range"
            else {"plan": plan, "days": days},
        )
        assert got.status_code == status, (path, days)
        assert len(got.data) < 40_000_000


def test_very_many_faults_name_the_nearest_names_and_are_bounded(client):
    """500 groups, and 2,000 access of groups that are not among them."""
    group = document()["groups"][0]
    plan = document(
        groups=[group | {"id": f"group-{k}"} for k in range(500)],
        access=[{"group": f"group-{k}x", "pool": "main"} for k in range(2_000)],
    )
    got = client.post("/api/people/crowd", json={"plan": plan, "days": 7})
    faults = got.json["faults"]
    assert (got.status_code, len(faults)) == (422, problems.MOST_FAULTS)
    assert "the first 1,000 of 2,0" in got.json["detail"]
    near = next(f for f in faults if f["pointer"] == "/access/42/group")
    assert "group-42" in near["remedy"] and "and 492 others" in near["remedy"]
    assert len(got.data) < 500_000
