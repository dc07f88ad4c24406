"""Simulated weeks over HTTP: pictures, ranges, lanes, waiters."""

import pytest

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.web.board import routes as board
from idle_harbor.web.shared.desk import Desk
from tests.core.plans import document
from tests.web.asking import simulate


def test_a_week_is_simulated(client):
    got = simulate(client, tab="t", edit=3).json
    assert len(got["input_hash"]) == 64
    assert len(got["days"]) == 7 and got["days"][0]["date"] == "2027-03-01"
    series = got["series"]
    assert {len(v) for v in series.values() if isinstance(v, list)} == {7 * 288}
    water = [
        sum(x) for x in zip(series["active"], series["idle"], series["disconnected"], strict=True)
    ]
    # A day's peak is at least every mean of its five minutes, and above most; nobody is left out.
    for n, day in enumerate(got["days"]):
        highest = max(water[288 * n : 288 * (n + 1)])
        assert highest <= day["peak_sessions"] <= highest + 3
    figures = got["figures"]
    peak = max(day["peak_sessions"] for day in got["days"])
    assert peak == figures["sessions"]["peak"]["mean"]
    ideal, billed = (figures["host_hours"][name]["mean"] for name in ("ideal", "billed"))
    assert got["verdicts"]["efficiency"] == pytest.approx(ideal / billed, abs=1e-6)
    assert got["verdicts"]["wait_p95_seconds"]["limit"] == 60
    assert got["figures"]["seeds"] == 1


def test_the_waits_of_a_week_agree_with_its_figures_and_its_list(client):
    got = simulate(client).json
    logons, floods = got["logons"], got["floods"]
    assert len({len(column) for column in logons.values()}) == 1 and logons["at"]
    rows = list(zip(*(logons[name] for name in logons), strict=True))
    for _, asked, waited, median, longest in rows:
        assert 0 < waited <= asked
        assert longest == -1 or 0 <= median <= longest
    flood = max(floods, key=lambda each: each["peak"])
    assert flood["peak"] == max(day["peak_waiting"] for day in got["days"])
    query = {"start": flood["start"], "end": flood["end"]}
    listed = client.get(f"/api/simulations/{got['input_hash']}/waiters", query_string=query).json
    inside = [row[2] for row in rows if query["start"] <= row[0] < query["end"]]
    assert listed["total"] == sum(inside)


def test_a_preview_is_the_same_week_with_the_series_of_one_day(client):
    part = simulate(client, preview=True, day=2).json
    whole = simulate(client).json
    day = whole["days"][2]
    assert part["series"].pop("start") == day["start"] and part["series"].pop("seconds") == 300
    first = (day["start"] - whole["series"]["start"]) // 300
    for name, values in part["series"].items():
        assert values == whole["series"][name][first : first + 288]
    for name in ("days", "logons", "floods", "figures", "verdicts", "bands", "reasons"):
        assert part[name] == whole[name]
    # What is there whole is given whole.
    assert simulate(client, preview=True, day=2).json == whole
    assert simulate(client, preview=True, day=7).status_code == 422


def test_load_rules_are_told_look_by_look_and_where_they_fight(client):
    plan = document()
    thin = {"id": "thin", "signal": "free slots", "asks_at": 25, "permits_at": 26}
    busy = {"id": "busy", "signal": "people at work", "asks_at": 10}
    at_once = {"asks_hold_minutes": 0, "permits_hold_minutes": 0, "pause_minutes": 0}
    left = {"id": "left", "signal": "disconnected sessions", "asks_at": 1_000}
    plan["schedules"][0]["load_rules"] = [busy | at_once, thin | at_once, left]
    for band in plan["schedules"][0]["day_types"][0]["bands"]:
        band["load_rules"] = ["busy", "thin"]
    part = simulate(client, plan=plan, preview=True, day=2).json
    whole = simulate(client, plan=plan).json
    told = whole["load_rules"][0]
    assert (told["id"], told["unit"], told["asks_where_low"]) == ("busy", "people", False)
    assert told["seconds"] == 300 and len(told["values"]) == len(told["extras"]) == 7 * 288
    assert told["start"] == whole["days"][0]["start"]
    # What a signal says is the mean that the week's own series tells of the same five minutes.
    said = whole["load_rules"][2]["values"][1:]
    drawn = whole["series"]["disconnected"][:-1]
    assert max(drawn) > 1.0 and said == [pytest.approx(v, abs=0.02, rel=1e-3) for v in drawn]
    assert max(told["extras"]) > 0
    assert (
        whole["load_rules"][1]["values"].count(None) > 0
        and whole["load_rules"][1]["asks_where_low"]
    )
    fight = next(each for each in whole["fights"] if each["grows"] == "busy")
    assert fight["shrinks"] == "thin" and fight["count"] >= len(fight["times"]) > 0
    assert part["load_rules"][0]["values"] == told["values"][2 * 288 : 3 * 288]


def test_a_clock_change_week_has_its_own_number_of_bins(client):
    got = simulate(client, plan=document(week_of="2027-03-24")).json
    assert len(got["series"]["active"]) == 2004
    assert [d["clock_change"] for d in got["days"]] == [0] * 6 + [-3600]


def test_a_range_is_simulated_and_kept_for_saved_plans(client, monkeypatch):
    one = simulate(client, "range", seeds=4, saved=True).json
    assert one["figures"]["seeds"] == 4
    assert one["figures"]["wait_seconds"]["p95"]["low"] is not None
    client.application.extensions["desk"] = Desk()  # as after a restart of the server
    monkeypatch.setattr(board, "weeks", lambda *_: pytest.fail("simulated again"))
    two = simulate(client, "range", seeds=4, saved=True, edit=9).json
    assert two == one


def test_bands_tell_from_when_to_when_and_between_what_they_may_begin(client):
    got = simulate(client, plan=document(week_of="2027-03-24")).json
    days = got["days"]
    monday = [b for b in got["bands"] if days[0]["start"] <= b["start"] < days[0]["end"]]
    hours = [
        tuple(
            (b[name] - days[0]["start"]) / 3600 for name in ("start", "end", "earliest", "latest")
        )
        for b in monday
    ]
    five = 5 / 60
    assert hours[0] == (0, 7.5, 0, 0)
    assert hours[1] == pytest.approx((7.5, 17, five, 17 - five))
    assert hours[2] == pytest.approx((17, 24, 7.5 + five, 24 - five))
    # On the day of 23 hours nothing begins beyond its end.
    sunday = [b for b in got["bands"] if b["start"] >= days[6]["start"]]
    assert sunday[-1]["end"] == days[6]["end"] and sunday[-1]["latest"] <= days[6]["end"]


def test_an_older_edit_of_a_tab_is_superseded(client):
    assert simulate(client, tab="t", edit=5).status_code == 200
    late = document(currency="SEK")
    answer = simulate(client, plan=late, tab="t", edit=4)
    assert answer.status_code == 204 and answer.data == b""
    assert simulate(client, plan=late, tab="other", edit=1).status_code == 200


def test_lanes_tell_states_sessions_and_causes(client):
    week = simulate(client).json
    day = week["days"][1]
    window = f"start={day['start']}&end={day['end']}"
    got = client.get(f"/api/simulations/{week['input_hash']}/lanes?{window}").json
    assert [lane["host"] for lane in got["lanes"]] == list(range(10))
    for lane in got["lanes"]:
        times = [c["time"] for c in lane["changes"]]
        assert times == sorted(times) and times[0] == day["start"]
    morning = [a for a in got["actions"] if a["cause"] == "floor"]
    assert len(morning) >= 3 and morning[0]["text"] == "the floor asked for it"


def test_waiters_are_told_with_their_causes(client):
    tight = document()
    tight["pools"][0]["hosts"] = {"standing": 4}
    tight["pools"][0]["patience_seconds"] = 120
    week = simulate(client, plan=tight).json
    assert week["figures"]["refused"]["mean"] > 0
    assert week["verdicts"]["efficiency"] is None
    assert "refused" in week["verdicts"]["efficiency_withheld"]
    day = week["days"][1]
    window = f"start={day['start']}&end={day['end']}"
    got = client.get(f"/api/simulations/{week['input_hash']}/waiters?{window}").json
    assert got["total"] >= len(got["waiters"]) > 0
    assert got["waiters"][0]["refused"] and got["waiters"][0]["group"] == "people"
    assert {w["cause"] for w in got["waiters"]} <= {"exhausted", "starting", "not_asked", "rush"}


def test_too_much_is_bounded_and_says_so(client):
    big = document()
    big["groups"][0]["demand"]["people"] = 100_000
    answer = simulate(client, "range", plan=big, seeds=64)
    assert answer.status_code == 422 and "5,000,000" in answer.json["detail"]


def test_hours_at_the_baseline_and_work_behind_a_slow_line_are_told(client):
    """Nobody is either in the small plan; on a burstable size behind a line of 150 ms they are."""

    def told(plan):
        got = client.post("/api/simulations/week", json={"plan": plan, "pool": "main"}).json
        figures = got["figures"]
        return figures["baseline_hours"]["mean"], figures["behind_share"]["mean"]

    assert told(document()) == (0.0, 0.0)
    lines = [{"site": "here", "round_trip_ms": 150}]
    slow = document(places=[{"id": "far", "area": "A", "zones": ["z"], "lines": lines}])
    slow["pools"][0]["place"] = "far"
    slow["sizes"][0]["burst"] = {"baseline": 0.05}
    hours, behind = told(slow)
    assert hours > 1.0 and 0.0 < behind <= 1.0


@pytest.mark.parametrize("day", ["1971-01-01", "2199-12-31"])
def test_the_first_and_the_last_date_are_simulated(client, day):
    assert simulate(client, plan=document(week_of=day)).status_code == 200
    assert simulate(client, "range", seeds=1, days=3, first=day).status_code == 200


def test_a_board_of_any_week_and_a_range_of_any_length(client):
    body = {"plan": demo_plan(), "pool": "counters"}
    week = client.post("/api/simulations/week", json={**body, "first": "2027-10-25"}).json
    assert week["days"][6]["clock_change"] == 3600
    usual = client.post("/api/simulations/week", json=body).json
    assert usual["days"][0]["date"] == "2027-03-01"
    day = client.post("/api/simulations/range", json={**body, "seeds": 1, "days": 1}).json
    month = client.post("/api/simulations/range", json={**body, "seeds": 1, "days": 28}).json
    assert month["figures"]["arrivals"]["mean"] > 20 * day["figures"]["arrivals"]["mean"]


def test_a_target_at_the_first_instant_of_the_week_is_of_that_week(client):
    """Five work days begin in it; that of the next Monday begins as it ends."""
    plan = document()
    plan["schedules"][0]["day_types"][0]["ready_by"] = [{"at": "00:00", "hosts": 2}]
    week = simulate(client, plan=plan).json
    found = [target["at"] for target in week["targets"]]
    assert found == [day["start"] for day in week["days"][:5]]
