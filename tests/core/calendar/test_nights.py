"""Days that begin at noon: a night belongs to the day it begins on."""

from datetime import date, datetime
from zoneinfo import ZoneInfo

import pytest

from idle_harbor.core.calendar.clock import band_edges, horizon_for
from idle_harbor.core.calendar.targets import targets_of
from idle_harbor.core.checks import schedules
from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan import edits
from idle_harbor.core.plan.declare import clock
from idle_harbor.core.plan.edits.bands import BeginDays, MoveBand, RemoveBand, SplitBand
from idle_harbor.core.plan.edits.beginning import BeginPlan
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.picture import bands_of, days_of
from idle_harbor.core.weeks.week import week
from idle_harbor.formats.plan.codec import plan_of, to_values
from tests.core.plans import document

MONDAY = date(2027, 3, 1)
NIGHT = [
    {"from": "12:00", "floor": 0},
    {"from": "21:00", "floor": 6, "drain_steps": [{"by": "03:00", "share": 0.5}]},
    {"from": "06:30", "floor": 1},
]
READY = [{"at": "22:00", "hosts": 7, "until": "02:00"}, {"at": "05:00", "hosts": 3}]
ZONE = document()["pools"][0]["time_zone"]


def at_night(bands=NIGHT):
    """A plan whose working days begin at noon, and whose nights of Friday end on Saturday."""
    given = document()
    schedule = given["schedules"][0]
    schedule["day_begins"] = "12:00"
    workday, rest = schedule["day_types"]
    workday |= {"bands": bands, "ready_by": READY}
    rest["bands"] = [{"from": "12:00", "floor": 0}]
    return given


def on_the_clock(instant):
    return f"{datetime.fromtimestamp(instant, ZoneInfo(ZONE)):%a %H:%M}"


def test_a_night_is_written_as_it_was_read_and_in_one_band():
    given = at_night()
    written = to_values(plan_of(given))["schedules"][0]
    workday = written["day_types"][0]
    assert [band["from"] for band in workday["bands"]] == ["12:00", "21:00", "06:30"]
    assert workday["bands"][1]["drain_steps"][0]["by"] == "03:00"
    assert [each["at"] for each in workday["ready_by"]] == ["22:00", "05:00"]
    assert plan_of(to_values(plan_of(given))) == plan_of(given)


def test_the_night_of_friday_ends_on_saturday_with_the_rules_of_friday():
    schedule = plan_of(at_night()).schedules[0]
    edges = band_edges(schedule, horizon_for(ZONE, MONDAY, 7, 0, schedule.day_begins))
    found = [(on_the_clock(edge.instant), edge.day_type, edge.band) for edge in edges]
    assert found[:4] == [
        ("Mon 12:00", 0, 0),
        ("Mon 21:00", 0, 1),
        ("Tue 06:30", 0, 2),
        ("Tue 12:00", 0, 0),
    ]
    assert found[-4:] == [
        ("Fri 21:00", 0, 1),
        ("Sat 06:30", 0, 2),
        ("Sat 12:00", 1, 0),
        ("Sun 12:00", 1, 0),
    ]


def test_a_horizon_from_midnight_begins_with_the_night_of_the_date_before():
    schedule = plan_of(at_night()).schedules[0]
    tuesday = date(2027, 3, 2)
    edges = band_edges(schedule, horizon_for(ZONE, tuesday, 1, 0))
    found = [(on_the_clock(edge.instant), edge.day, edge.band) for edge in edges]
    assert found[:2] == [("Tue 00:00", MONDAY, 1), ("Tue 06:30", MONDAY, 2)]


def test_targets_after_midnight_are_of_the_night_before():
    schedule = plan_of(at_night()).schedules[0]
    targets = targets_of(schedule, horizon_for(ZONE, MONDAY, 1, 0, schedule.day_begins), {})
    found = [(on_the_clock(t.at), on_the_clock(t.until), t.asks.hosts) for t in targets]
    assert found[:2] == [("Mon 22:00", "Tue 02:00", 7), ("Tue 05:00", "Tue 06:30", 3)]


def test_pictures_of_a_week_go_from_noon_to_noon():
    case = case_of(plan_of(at_night()), "main")
    days = days_of(case, week(case, 1, record=True))
    assert {on_the_clock(day.start)[4:] for day in days} == {"12:00"}
    assert [day.end - day.start for day in days] == [86_400] * 7
    first = [band for band in bands_of(case) if days[0].start <= band.start < days[0].end]
    reach = [(on_the_clock(b.earliest), on_the_clock(b.latest)) for b in first]
    assert reach[0] == ("Mon 12:00", "Mon 12:00")
    assert reach[1] == ("Mon 12:05", "Tue 06:25")


@pytest.mark.parametrize("first", ["00:00", "21:00"])
def test_the_first_band_begins_with_the_day(first):
    bands = [{"from": first, "floor": 0}, *NIGHT[1:]]
    with pytest.raises(PlanError, match=r"start|order"):
        plan_of(at_night([band for k, band in enumerate(bands) if k != 1]))


def starts(plan, kind=0):
    bands = to_values(plan)["schedules"][0]["day_types"][kind]["bands"]
    return [(band["from"], band["floor"]) for band in bands]


def on(plan, edit, **about):
    schedule = plan.schedules[0]
    named = {"schedule": schedule.id, "day_type": schedule.day_types[0].id}
    return edits.changed(plan, edit(about.pop("verb"), **named, **about))


def test_bands_of_a_night_are_moved_split_and_removed():
    plan = plan_of(at_night())
    clock = 3600
    moved = on(plan, MoveBand, verb="move-band", band=21 * clock, to=1 * clock)
    assert starts(moved) == [("12:00", 0), ("01:00", 6), ("06:30", 1)]
    parted = on(plan, SplitBand, verb="split-band", at=2 * clock)
    assert starts(parted) == [("12:00", 0), ("21:00", 6), ("02:00", 6), ("06:30", 1)]
    whole = to_values(parted)["schedules"][0]["day_types"][0]["bands"]
    assert [len(band["drain_steps"]) for band in whole] == [0, 0, 1, 0]
    removed = on(plan, RemoveBand, verb="remove-band", band=12 * clock)
    assert starts(removed) == [("12:00", 6), ("06:30", 1)]


def test_days_that_begin_later_keep_their_rules_on_the_clock_and_come_back():
    plan = plan_of(document())
    name = plan.schedules[0].id
    noon = edits.changed(plan, BeginDays("begin-days", name, 12 * 3600))
    assert noon.schedules[0].day_begins == 12 * 3600
    before, after = dict(starts(plan)), starts(noon)
    assert after[0][0] == "12:00"
    assert {floor for begin, floor in after if begin in before} <= set(before.values())
    assert all(before[begin] == floor for begin, floor in after[1:] if begin in before)
    assert plan_of(to_values(noon)) == noon
    assert edits.changed(noon, BeginDays("begin-days", name, 0)) == plan


def test_a_plan_of_night_workers_begins_with_days_from_noon():
    given = BeginPlan("begin-plan", 100, ZONE, 22 * 3600, 8.0, 4, 16, 1, 12)
    empty = plan_of({"name": "Night", "week_of": "2027-03-01"})
    plan = edits.changed(empty, given)
    assert plan.schedules[0].day_begins == 12 * 3600
    assert starts(plan) == [("12:00", 0), ("21:00", 1), ("06:00", 0)]


def night_findings(start, hours, begins="00:00"):
    """What is found about days that cut a night, where everybody starts work at a time."""
    given = document()
    for group in given["groups"]:
        for pattern in group["demand"].get("patterns", []):
            pattern |= {"start": {"mean": start}, "length": {"mean_minutes": 60 * hours}}
    plan = BeginDays("begin-days", given["schedules"][0]["id"], clock(begins)).done(plan_of(given))
    return [each for each in schedules.FAMILY.find(plan) if each.check == "night-cut-in-two"]


def test_a_schedule_whose_days_cut_a_night_is_found_and_mended():
    [found] = night_findings("22:00", 8)
    assert found.pointer == "/schedules/0/day_begins"
    assert found.does is not None and found.does.value == "12:00"
    assert night_findings("22:00", 8, "12:00") == []


@pytest.mark.parametrize(("start", "hours"), [("08:00", 8), ("14:00", 8), ("06:00", 23)])
def test_a_day_that_cuts_no_night_is_left_alone(start, hours):
    assert night_findings(start, hours) == []
