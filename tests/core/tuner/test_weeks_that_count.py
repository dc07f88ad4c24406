"""The kinds of week of a year: what makes them differ, how often they come, which a study takes."""

from dataclasses import replace
from datetime import date
from math import ceil

import numpy as np
import pytest

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.demand.crowd import drawn_presence
from idle_harbor.core.demand.expected import expected_day
from idle_harbor.core.demand.spells import demand_of
from idle_harbor.core.engine.setting import Drill
from idle_harbor.core.errors import PlanError
from idle_harbor.core.tuner import Counted, Question
from idle_harbor.core.tuner.asking import checked_question
from idle_harbor.core.tuner.designs.design import design_of
from idle_harbor.core.tuner.scoring.scores import Slot, Tried
from idle_harbor.core.tuner.weeks.kinds import SCENARIOS, weeks_by_itself, weeks_of_year
from tests.core.plans import document, plan

OWN = date(2027, 3, 1)


def abroad(**changes):
    """The small plan with its people at a site whose clock changes on other dates."""
    whole = document(**changes)
    whole["sites"] = [{**each, "time_zone": "America/New_York"} for each in whole["sites"]]
    return plan(**whole)


def test_weeks_that_demand_the_same_are_one_kind():
    (only,) = weeks_of_year(plan(), "main")
    assert (only.name, only.monday, only.weeks) == ("ordinary", OWN, 53)


def test_weeks_in_which_a_site_is_an_hour_nearer_are_a_kind():
    found = weeks_of_year(abroad(), "main")
    apart = next(kind for kind in found if kind.name.startswith("clocks of"))
    # Its clock changes on 14 March and 7 November, the pool's on 28 March and 31 October.
    assert apart.monday in (date(2027, 3, 15), date(2027, 11, 1)) and apart.weeks == 3
    assert "1 h earlier" in apart.why


def test_an_event_that_brings_more_people_is_a_kind_and_one_that_brings_fewer_is_not():
    when = {"kind": "dates", "from": "2027-05-11", "to": "2027-05-12"}
    more = weeks_of_year(plan(events=[{"id": "fair", "when": when, "factor": 2}]), "main")
    assert [(kind.name, kind.monday, kind.weeks) for kind in more] == [
        ("ordinary", OWN, 52),
        ("fair", date(2027, 5, 10), 1),
    ]
    assert more[1].beyond == pytest.approx(1 / 2, rel=0.01)
    fewer = weeks_of_year(plan(events=[{"id": "fair", "when": when, "factor": 0.5}]), "main")
    assert [kind.name for kind in fewer] == ["ordinary"]


def test_growth_makes_the_end_of_the_year_a_kind():
    whole = document()
    growth = {"per_year": 0.3, "since": "2027-03-01"}
    whole["groups"] = [{**each, "growth": growth} for each in whole["groups"]]
    found = weeks_of_year(plan(**whole), "main")
    assert found[1].name == "later on" and found[1].monday >= date(2028, 2, 1)
    assert sum(kind.weeks for kind in found) == 53


def test_a_study_takes_fewer_kinds_the_fewer_weeks_it_has():
    when = {"kind": "dates", "from": "2027-05-11", "to": "2027-05-12"}
    whole = plan(events=[{"id": "fair", "when": when, "factor": 2}])
    small = checked_question(whole, Question("main", budget=600))
    assert [week.name for week in small.weeks] == ["ordinary"]
    assert [week.name for week in small.checked] == ["fair"]
    large = checked_question(whole, Question("main", budget=3_000))
    assert [(week.name, week.weight) for week in large.weeks] == [("ordinary", 52), ("fair", 1)]
    assert large.checked == () and large.weeks[1].excusable and not large.weeks[0].excusable
    own = checked_question(whole, Question("main", (Counted("own", OWN),)))
    assert [week.name for week in own.weeks] == ["own"]
    assert [week.name for week in own.checked] == ["fair"]
    with pytest.raises(PlanError, match="weight"):
        checked_question(whole, Question("main", (Counted("own", OWN, 0.0),)))


def test_the_expected_day_is_the_mean_of_drawn_ones():
    demand = demand_of(plan(), "main")
    day = date(2027, 3, 2)
    horizon = horizon_for("Europe/Dublin", day, 1, 1)
    drawn = np.mean([drawn_presence(demand, horizon, seed).mean for seed in range(1, 41)], axis=0)
    present, arriving = expected_day(demand, "Europe/Dublin", day)
    # Breaks are left out of the one, so it is compared before the first of them.
    morning = slice(24, 44)
    ends = drawn.reshape(96, 3)[:, -1]
    assert np.abs(present - ends)[morning].max() < 2.5
    assert arriving.sum() == pytest.approx(present.max(), rel=0.05)


def test_conditions_change_people_and_starts():
    whole = plan()
    design = design_of(whole, "main")
    weeks = [Counted("own", OWN), *(each for each in SCENARIOS if not each.zone_lost)]
    tried = Tried(whole, weeks)
    people = [tried.case(design, k).named for k in range(len(weeks))]
    assert people == [60, 66, 54, 60, 60]
    slow = tried.case(design, 3).setting.pool.start.mean_seconds
    assert slow == 1.5 * design.pool.start.mean_seconds


def test_a_lost_zone_takes_its_hosts_for_the_week():
    whole = plan()
    design = design_of(whole, "main")
    tried = Tried(whole, [Counted("own", OWN), Counted("lost", OWN, zone_lost=True)])
    calm, lost = tried.scores(design, [Slot(0, 1), Slot(1, 1)])
    # The plan has one zone: nobody finds room.
    assert calm.promised[0] < lost.promised[0] and lost.billed == 0.0


def test_failed_hosts_are_a_tenth_for_two_hours():
    whole = plan()
    design = design_of(whole, "main")
    tried = Tried(whole, [replace(each, monday=OWN) for each in SCENARIOS if each.hosts_failed])
    case = tried.case(design, 0)
    (drill,) = case.setting.drills
    monday = case.horizon.counted - case.horizon.start
    assert drill == Drill(monday + 9 * 3600, 2 * 3600, hosts=ceil(0.1 * design.pool.hosts.most))


def test_everybody_must_find_room_without_a_zone_where_that_is_promised():
    whole = document()
    place = {"id": "quay", "area": "here", "zones": ["a", "b"]}
    whole["places"] = [place]
    whole["pools"] = [{**each, "place": "quay", "zones": ["a", "b"]} for each in whole["pools"]]
    whole["promise"] = {**whole.get("promise", {}), "zone_loss": True}
    found = weeks_by_itself(plan(**whole), "main", 3_000)
    assert [(week.name, week.weight, week.zone_lost) for week in found] == [
        ("ordinary", 53, False),
        ("zone lost", 0.0, True),
    ]
