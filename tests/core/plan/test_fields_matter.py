"""Every field about people changes what is computed: spells, a simulated figure, or a finding."""

from copy import deepcopy
from datetime import date

import numpy as np
import pytest

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.checks.people import people_findings
from idle_harbor.core.demand.spells import demand_of, pool_spells
from idle_harbor.core.weeks.summary import simulate
from idle_harbor.formats.plan.codec import plan_of
from tests.changes import another_pool, changed, several
from tests.core.people import DAYS, drop_in, group
from tests.core.plans import document

#: A fortnight with a holiday (17 March), an event, and a clock change (28 March) in it.
DAYS_SEEN = horizon_for("Europe/Dublin", date(2027, 3, 15), 14, 0)
LEAVING = {"sign_off": 0.5, "disconnect": 0.3, "walk_away": 0.2}


def whole():
    break_at = {
        "probability": 0.7,
        "at": "12:30",
        "sd_minutes": 15,
        "mean_minutes": 45,
        "length_sd_minutes": 10,
        "leaving": LEAVING,
    }
    break_after = {**break_at, "at": None, "after_minutes": 400}
    day = {
        "id": "day",
        "share": 0.6,
        "attendance": dict.fromkeys(DAYS, 0.8),
        "start": {"kind": "normal", "mean": "08:45", "sd_minutes": 25},
        "length": {"kind": "normal", "mean_minutes": 520, "sd_minutes": 30},
        "breaks": [break_at, break_after],
        "leaving": LEAVING,
    }
    seen = {
        **deepcopy(day),
        "id": "seen",
        "share": 0.4,
        "breaks": [],
        "start": {"kind": "histogram", "from": "06:00", "step_minutes": 30, "weights": [1, 3]},
        "length": {"kind": "histogram", "from_minutes": 60, "step_minutes": 40, "weights": [2, 1]},
    }
    spare = {**deepcopy(day), "id": "spare", "share": 0}
    turns = {"every_days": 2, "order": ["night", None, None], "since": "2027-01-04"}
    night = {
        **deepcopy(day),
        "id": "night",
        "share": 1,
        "breaks": [],
        "start": {"kind": "normal", "mean": "22:00", "sd_minutes": 5},
    }
    visits = drop_in("c", 20.0)
    visits["demand"]["session"] = {"kind": "lognormal", "mean_minutes": 30, "cv": 0.6}
    return document(
        sites=[{"id": "here", "time_zone": "Europe/Dublin",
                "holidays": {"country": "IE", "region": None,
                             "own": [{"day": "2027-03-19", "name": "own"}]}}],
        profiles=[{"id": "office"}, {"id": "light", "cpu": {"mean": 0.1}}],
        groups=[
            group("a", 60, [day, seen, spare], growth={"per_year": 0.2, "since": "2026-01-01"}),
            group("b", 30, [night], rotation=turns),
            visits,
        ],
        events=[
            {"id": "dates", "groups": ["a"], "factor": 1.3, "shift_minutes": 30, "pattern": "spare",
             "when": {"kind": "dates", "from": "2027-03-22", "to": "2027-03-24"}},
            {"id": "workdays", "groups": ["b"], "factor": 0.5,
             "when": {"kind": "month-workdays", "from": 10, "to": 14}},
        ],
        overlaps=[{"groups": ["a", "b"], "people": 5}],
        images=[{"id": "image", "apps": ["Mail"]}],
        access=[
            {"group": "a", "pool": "main", "use": 0.9},
            {"group": "a", "pool": "main", "as": "apps", "apps": ["Mail"], "use": 0.5},
            {"group": "b", "pool": "main"},
            {"group": "c", "pool": "main"},
        ],
    )  # fmt: skip


def planned(*changes):
    given = whole()
    given["pools"][0]["image"] = "image"
    given["pools"][0]["desktop_and_apps"] = "two sessions"
    return plan_of(changed(given, *changes))


def shape(plan):
    found = pool_spells(demand_of(plan, "main"), DAYS_SEEN, 1)
    return np.column_stack(
        [found.person, found.start, found.end, found.leaving, found.profile, found.from_connection]
    )


#: By the field's path: what is changed.
CHANGES = {
    "sites.time_zone": "/sites/0/time_zone = America/Halifax",
    "sites.holidays.country": "/sites/0/holidays/country = CA",
    "sites.holidays.own.day": "/sites/0/holidays/own = []",
    "sites.together.attendance_cv": "/sites/0/together = {'attendance_cv': 0.1}",
    "sites.together.shift_sd_minutes": "/sites/0/together = {'shift_sd_minutes': 9}",
    "groups.works_holidays": "/groups/0/works_holidays = True",
    "groups.growth.per_year": "/groups/0/growth/per_year = 0.4",
    "groups.growth.since": "/groups/0/growth/since = 2026-09-01",
    "groups.demand.people": "PEOPLE/people = 61",
    "groups.demand.patterns.share": (
        "PEOPLE/patterns/0/share = 0.9; PEOPLE/patterns/1/share = 0.1"
    ),
    "groups.demand.patterns.attendance": "PEOPLE/patterns/0/attendance/tue = 0.3",
    "groups.demand.patterns.start.mean": "PEOPLE/patterns/0/start/mean = 08:50",
    "groups.demand.patterns.start.sd_minutes": "PEOPLE/patterns/0/start/sd_minutes = 30",
    "groups.demand.patterns.start.from": "PEOPLE/patterns/1/start/from = 06:30",
    "groups.demand.patterns.start.step_minutes": "PEOPLE/patterns/1/start/step_minutes = 20",
    "groups.demand.patterns.start.weights": "PEOPLE/patterns/1/start/weights = [1, 1]",
    "groups.demand.patterns.length.mean_minutes": "PEOPLE/patterns/0/length/mean_minutes = 500",
    "groups.demand.patterns.length.sd_minutes": "PEOPLE/patterns/0/length/sd_minutes = 20",
    "groups.demand.patterns.length.from_minutes": "PEOPLE/patterns/1/length/from_minutes = 90",
    "groups.demand.patterns.length.step_minutes": "PEOPLE/patterns/1/length/step_minutes = 50",
    "groups.demand.patterns.length.weights": "PEOPLE/patterns/1/length/weights = [1, 1]",
    "groups.demand.patterns.breaks.probability": "BREAK/probability = 0.2",
    "groups.demand.patterns.breaks.at": "BREAK/at = 12:00",
    "groups.demand.patterns.breaks.after_minutes": "PEOPLE/patterns/0/breaks/1/after_minutes = 420",
    "groups.demand.patterns.breaks.sd_minutes": "BREAK/sd_minutes = 5",
    "groups.demand.patterns.breaks.mean_minutes": "BREAK/mean_minutes = 30",
    "groups.demand.patterns.breaks.length_sd_minutes": "BREAK/length_sd_minutes = 2",
    "groups.demand.patterns.breaks.leaving": "BREAK/leaving = {'sign_off': 1.0}",
    "groups.demand.patterns.leaving": "PEOPLE/patterns/0/leaving = {'sign_off': 1.0}",
    "groups.demand.patterns.habits.long_call": "PEOPLE/patterns/0/habits = {'long_call': 0.5}",
    "groups.demand.patterns.habits.reading": "PEOPLE/patterns/0/habits = {'reading': 0.5}",
    "groups.demand.patterns.habits.works_late": "PEOPLE/patterns/0/habits = {'works_late': 0.5}",
    "groups.demand.rotation": "/groups/1/demand/rotation = None",
    "groups.demand.rotation.every_days": "/groups/1/demand/rotation/every_days = 3",
    "groups.demand.rotation.order": "/groups/1/demand/rotation/order = ['night', None]",
    "groups.demand.rotation.since": "/groups/1/demand/rotation/since = 2027-01-05",
    "groups.demand.arrivals_per_hour": f"/groups/2/demand/arrivals_per_hour/mon = {[21.0] * 24}",
    "groups.demand.session.kind": "/groups/2/demand/session/kind = exponential",
    "groups.demand.session.mean_minutes": "/groups/2/demand/session/mean_minutes = 31",
    "groups.demand.session.cv": "/groups/2/demand/session/cv = 0.4",
    "events.groups": "/events/1/groups = ['b', 'c']",
    "events.when.from": "/events/0/when/from = 2027-03-23",
    "events.when.to": "/events/0/when/to = 2027-03-25",
    "events.factor": "/events/0/factor = 1.4",
    "events.shift_minutes": "/events/0/shift_minutes = 0",
    "events.pattern": "/events/0/pattern = seen",
    "events.when.from (workdays)": "/events/1/when/from = 12",
    "events.when.to (workdays)": "/events/1/when/to = 12",
    "overlaps.groups": "/overlaps = []",
    "overlaps.people": "/overlaps/0/people = 6",
    "access.group": "/access = [{'group': 'c', 'pool': 'main'}]",
    "access.pool": (another_pool, "/access/3/pool = other"),
    "access.use": "/access/0/use = 0.7",
    "access.use (apps)": "/access/1/use = 0.6",
    "access.as": "/access/2/as = apps; /access/2/apps = ['Mail']",
    "access.profile": "/access/1/profile = light",
    "groups.profile": "/groups/1/profile = light",
    "pools.desktop_and_apps": "POOL/desktop_and_apps = one session",
}


@pytest.fixture(scope="module")
def usual():
    return shape(planned())


@pytest.mark.parametrize("name", CHANGES)
def test_a_field_changes_who_comes_when_or_how(usual, name):
    changed = shape(planned(*several(CHANGES[name])))
    assert changed.shape != usual.shape or not np.array_equal(changed, usual)


def test_a_region_adds_its_own_holidays():
    """Heritage Day, on a Monday of February, is one in Nova Scotia and not in all of Canada."""
    heritage = horizon_for("Europe/Dublin", date(2027, 2, 15), 1, 0)
    counts = []
    for region in (None, "NS"):
        plan = planned(f"/sites/0/holidays = {{'country': 'CA', 'region': {region!r}}}")
        counts.append(len(pool_spells(demand_of(plan, "main"), heritage, 1)))
    assert counts[0] != counts[1]


def test_lists_and_kinds_of_dedicated_pools_change_figures():
    def dedicated(given, **more):
        given["pools"][0].update(kind="dedicated", session_limit=1, hosts={"standing": 400}, **more)
        given["access"] = [{"group": "b", "pool": "main"}]

    def refused(**more):
        plan = planned(lambda given: dedicated(given, **more))
        return simulate(plan, "main", 1).refused_share.mean

    listed = [{"group": "b", "person": k, "host": k} for k in range(1, 21)]
    assert refused() < 0.2 < refused(assign="by list") == 1.0
    assert 0.0 < refused(assign="by list", assigned=listed) < 0.8


def test_an_inventory_changes_what_is_found():
    assert [f.check for f in people_findings(planned())] == []
    assert [f.check for f in people_findings(planned("/images/0/apps = []"))] == [
        "app-not-in-image"
    ]
