"""Edits of a plan that change more than one value, by hand."""

from dataclasses import replace
from datetime import date
from decimal import Decimal

import pytest

from idle_harbor.core.errors import PlanError, UnknownNameError
from idle_harbor.core.plan import Assigned, DayType
from idle_harbor.core.plan.edits import changed
from idle_harbor.core.plan.edits.bands import reach_of as band_reach_of
from idle_harbor.core.plan.edits.patterns import breaks_of, end_of, reach_of
from idle_harbor.core.plan.hosts import Burst, Committed, Machine
from idle_harbor.core.plan.load_rules import SIGNALS
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import edited, plan_of, read_edit, to_values
from tests.core.plans import document

DAY = {"schedule": "main", "day_type": "workday"}


def does(plan, verb, **values):
    return changed(plan, read_edit({"verb": verb, **values}))


def small(**changes):
    return plan_of(document(**changes))


def starts(plan):
    return [band["from"] for band in to_values(plan)["schedules"][0]["day_types"][0]["bands"]]


def floors_of(plan):
    return [band.floor for band in plan.schedules[0].day_types[0].bands]


@pytest.mark.parametrize(
    ("band", "to", "begins"),
    [
        ("07:30", "06:58", ["00:00", "07:00", "17:00"]),  # on the grid
        ("07:30", "23:00", ["00:00", "16:55", "17:00"]),  # before the one after it
        ("07:30", "00:01", ["00:00", "00:05", "17:00"]),  # after the one before it
        ("17:00", "23:59", ["00:00", "07:30", "23:55"]),
        ("00:00", "03:00", ["00:00", "07:30", "17:00"]),  # a day begins at midnight
    ],
)
def test_a_band_moves_as_far_as_its_neighbours_allow(band, to, begins):
    moved = does(small(), "move-band", **DAY, band=band, to=to)
    assert starts(moved) == begins
    assert edited(moved)


def test_a_band_is_split_in_two_alike():
    plan = does(small(), "split-band", **DAY, at="12:02")
    assert starts(plan) == ["00:00", "07:30", "12:00", "17:00"]
    bands = plan.schedules[0].day_types[0].bands
    assert replace(bands[2], start=bands[1].start) == bands[1]
    assert starts(does(small(), "split-band", **DAY, at="23:59"))[-1] == "23:55"
    with pytest.raises(PlanError, match="begins at 07:30 already"):
        does(small(), "split-band", **DAY, at="07:31")


def test_a_band_that_goes_leaves_its_time_to_the_one_before_it():
    plan = does(small(), "remove-band", **DAY, band="17:00")
    assert (starts(plan), floors_of(plan)) == (["00:00", "07:30"], [0, 4])
    plan = does(plan, "remove-band", **DAY, band="00:00")
    assert (starts(plan), floors_of(plan)) == (["00:00"], [4])
    with pytest.raises(PlanError, match="at least one band"):
        does(plan, "remove-band", **DAY, band="00:00")


def test_what_is_not_there_is_told():
    with pytest.raises(UnknownNameError, match=r"called '09:00'.*: 00:00, 07:30, 17:00"):
        does(small(), "remove-band", **DAY, band="09:00")
    with pytest.raises(UnknownNameError, match="no day type called 'holiday'"):
        does(small(), "split-band", schedule="main", day_type="holiday", at="09:00")
    with pytest.raises(UnknownNameError, match="no schedule called 'other'"):
        does(small(), "give-date-rules", schedule="other", date="2027-03-03")
    for verb, values in (
        ("remove-part", {"what": "group", "part": "x"}),
        ("copy-part", {"what": "size", "part": "x", "name": "Y"}),
        ("name-part", {"what": "licence", "part": "x", "name": "Y"}),
    ):
        with pytest.raises(UnknownNameError, match="called 'x'"):
            does(small(), verb, **values)
    with pytest.raises(PlanError, match="move-band"):
        read_edit({"verb": "paint-band"})
    with pytest.raises(PlanError, match="/to"):
        read_edit({"verb": "move-band", **DAY, "band": "07:30", "to": "half past"})


def test_a_date_is_given_rules_of_its_own_and_they_are_taken_away():
    own = does(small(), "give-date-rules", schedule="main", date="2027-03-03")
    schedule = own.schedules[0]
    day = date(2027, 3, 3)
    assert schedule.day_type_of(day).id == "day-2027-03-03"
    assert schedule.day_type_of(day).bands == small().schedules[0].day_type_of(day).bands
    assert schedule.day_type_of(date(2027, 3, 10)).id == "workday"
    assert edited(own)
    with pytest.raises(PlanError, match="has rules of its own already"):
        does(own, "give-date-rules", schedule="main", date="2027-03-03")
    assert does(own, "drop-date-rules", schedule="main", date="2027-03-03") == small()
    assert does(small(), "drop-date-rules", schedule="main", date="2027-03-03") == small()
    # A day type that weekdays are left for stays without the date.
    types = list(document()["schedules"][0]["day_types"])
    types[0] = {**types[0], "dates": ["2027-03-06"]}
    fair = small(schedules=[{"id": "main", "day_types": types}])
    assert does(fair, "drop-date-rules", schedule="main", date="2027-03-06") == small()


def test_a_size_is_extended_by_what_changes_as_little_as_can_be():
    plan = plan_of(demo_plan())
    first = plan.sizes[0]

    def extended(by, plan=plan):
        return next(
            s for s in does(plan, "extend-size", size=first.id, by=by).sizes if s.id == first.id
        )

    assert extended("machine").machine == Machine(8, 8 * first.hourly)
    free = extended("free").free
    ratio = first.memory_gib / first.vcpu
    assert (free.vcpu_low, free.vcpu_high) == (first.vcpu, 2 * first.vcpu)
    assert free.gib_per_vcpu_low <= min(ratio, 2) and free.gib_per_vcpu_high >= max(ratio, 8)
    assert (free.per_vcpu, free.per_gib) == (0, 0)
    assert extended("burst").burst == Burst(0.2, 0.0, 24.0)
    there = {term.years for term in first.committed}
    years = next(each for each in (1, 3, 2, 4, 5) if each not in there)
    assert Committed(years, first.hourly) in extended("committed").committed
    # What is there already stays.
    own = replace(first, machine=Machine(2, Decimal(3)))
    assert extended("machine", replace(plan, sizes=(own, *plan.sizes[1:]))).machine == own.machine
    every = tuple(Committed(k, Decimal(1)) for k in range(1, 11))
    with pytest.raises(PlanError, match="for every term"):
        extended("committed", replace(plan, sizes=(replace(first, committed=every),)))


def test_a_place_has_a_size_or_has_it_not():
    plan = plan_of(demo_plan())
    place = next(each for each in plan.places if each.offers)
    size = place.offers[0].size

    def sizes(plan):
        found = next(each for each in plan.places if each.id == place.id)
        return [each.size for each in found.offers]

    without = does(plan, "offer-size", size=size, place=place.id, there=False)
    assert size not in sizes(without) and len(sizes(without)) == len(place.offers) - 1
    assert sizes(does(without, "offer-size", size=size, place=place.id, there=True))[-1] == size
    assert does(plan, "offer-size", size=size, place=place.id, there=True) == plan
    # Every size is there where none is named: without one of them the others are named.
    every = replace(plan, places=tuple(replace(each, offers=()) for each in plan.places))
    left = does(every, "offer-size", size=size, place=place.id, there=False)
    assert sizes(left) == [each.id for each in plan.sizes if each.id != size]
    only = replace(plan, places=(replace(place, offers=place.offers[:1]),))
    with pytest.raises(PlanError, match="would have no size"):
        does(only, "offer-size", size=size, place=place.id, there=False)
    with pytest.raises(UnknownNameError, match="no place called 'x'"):
        does(plan, "offer-size", size=size, place="x", there=True)


def test_a_pool_takes_a_size_with_its_limit_and_the_hosts_that_surge_does_not_bring():
    plan = plan_of(demo_plan())
    office = plan.pools[0]
    taken = does(plan, "take-size", pool="office", size="ketch", session_limit=29, hosts=42)
    pool = taken.pools[0]
    assert (pool.size, pool.session_limit, pool.hosts.standing) == ("ketch", 29, 42)
    assert edited(taken) and taken.pools[1:] == plan.pools[1:]
    surging = replace(office, hosts=replace(office.hosts, surge=50))
    few = does(
        replace(plan, pools=(surging, *plan.pools[1:])),
        "take-size",
        pool="office",
        size="ketch",
        session_limit=29,
        hosts=42,
    )
    assert (few.pools[0].hosts.standing, few.pools[0].hosts.surge) == (0, 50)
    with pytest.raises(UnknownNameError, match="pool"):
        does(plan, "take-size", pool="x", size="ketch", session_limit=1, hosts=1)
    with pytest.raises(PlanError, match="session_limit"):
        does(plan, "take-size", pool="office", size="ketch", session_limit=0, hosts=1)


def test_reach_is_between_the_neighbours():
    bands = small().schedules[0].day_types[0].bands
    assert [band_reach_of(bands, k) for k in range(3)] == [
        (0, 0), (300, 17 * 3600 - 300), (7 * 3600 + 2100, 86_400 - 300),
    ]  # fmt: skip


def pattern_of(plan, group, pattern):
    demand = next(g for g in plan.groups if g.id == group).demand
    return next(p for p in demand.patterns if p.id == pattern)


def with_pattern(**fields):
    """The small plan with one pattern changed, and what an edit calls it."""
    given = document()
    group = given["groups"][0]
    group["demand"]["patterns"][0] |= fields
    return plan_of(given), {"group": group["id"], "pattern": group["demand"]["patterns"][0]["id"]}


NINE_TO_FIVE = {
    "start": {"kind": "normal", "mean": "09:00", "sd_minutes": 30},
    "length": {"kind": "normal", "mean_minutes": 480, "sd_minutes": 60},
}


def test_a_break_comes_into_the_longest_stretch_without_one():
    plan, name = with_pattern(**NINE_TO_FIVE, breaks=[])
    plan = does(plan, "add-break", **name)
    assert [b.at for b in pattern_of(plan, **name).breaks] == [13 * 3600]
    plan = does(plan, "add-break", **name)  # 9 to 13 is as long as 13 to 17: the first
    assert [b.at for b in pattern_of(plan, **name).breaks] == [11 * 3600, 13 * 3600]
    plan = does(plan, "add-break", **name)
    assert [b.at for b in pattern_of(plan, **name).breaks] == [11 * 3600, 13 * 3600, 15 * 3600]
    assert edited(plan)
    for _ in range(5):
        plan = does(plan, "add-break", **name)
    with pytest.raises(PlanError, match="has 8 breaks already"):
        does(plan, "add-break", **name)


def test_a_night_shift_breaks_after_midnight():
    night = {"start": {"mean": "22:00"}, "length": {"mean_minutes": 480}, "breaks": []}
    plan, name = with_pattern(**night)
    assert pattern_of(does(plan, "add-break", **name), **name).breaks[0].at == 2 * 3600


def test_each_break_has_room_between_its_neighbours():
    breaks = [{"at": "12:00", "mean_minutes": 30}, {"after_minutes": 300, "mean_minutes": 20}]
    plan, name = with_pattern(**NINE_TO_FIVE, breaks=breaks)
    noon, second = breaks_of(pattern_of(plan, **name))
    assert (noon.begins, noon.longest) == (12 * 3600, 2 * 3600)
    assert (noon.earliest, noon.latest) == (9 * 3600, 13.5 * 3600)
    assert second.begins == 14 * 3600
    assert (second.earliest, second.latest) == (12.5 * 3600, 60_000)  # 16:40
    assert reach_of(pattern_of(plan, **name)) == (7.5 * 3600, 19 * 3600)


def test_an_observed_day_reaches_from_its_first_step_to_its_last():
    observed = {
        "start": {"kind": "histogram", "from": "08:00", "step_minutes": 30, "weights": [1, 3]},
        "length": {"kind": "histogram", "from_minutes": 60, "step_minutes": 60, "weights": [1, 1]},
    }
    plan, name = with_pattern(**observed, breaks=[])
    pattern = pattern_of(plan, **name)
    assert reach_of(pattern) == (8 * 3600, 12 * 3600)
    # starts at 8:15 (a quarter) or 8:45; stays 1.5 or 2.5 hours
    assert end_of(pattern) == (8 * 60 + 37.5 + 120) * 60


@pytest.mark.parametrize(
    ("way", "share", "now"),
    [
        ("sign_off", 0.2, (0.2, 0.6, 0.2)),  # the others three to one, as before
        ("sign_off", 1.0, (1.0, 0.0, 0.0)),
        ("disconnect", 0.0, (0.857143, 0.0, 0.142857)),
    ],
)
def test_the_other_ways_of_leaving_share_the_rest_as_before(way, share, now):
    leaving = {"sign_off": 0.6, "disconnect": 0.3, "walk_away": 0.1}
    plan, name = with_pattern(leaving=leaving, breaks=[{"at": "12:00", "leaving": leaving}])
    for pause in (None, 1):
        given = {} if pause is None else {"pause": pause}
        changed_to = does(plan, "set-leaving", **name, way=way, share=share, **given)
        pattern = pattern_of(changed_to, **name)
        left, other = pattern.leaving, pattern.breaks[0].leaving
        found, kept = (left, other) if pause is None else (other, left)
        assert (found.sign_off, found.disconnect, found.walk_away) == now
        assert kept == pattern_of(plan, **name).leaving
        assert edited(changed_to)
    with pytest.raises(UnknownNameError, match="break"):
        does(plan, "set-leaving", **name, way=way, share=share, pause=2)


def test_where_nobody_leaves_otherwise_the_others_share_alike():
    plan, name = with_pattern(leaving={"sign_off": 1.0, "disconnect": 0.0, "walk_away": 0.0})
    left = pattern_of(does(plan, "set-leaving", **name, way="sign_off", share=0.5), **name).leaving
    assert (left.sign_off, left.disconnect, left.walk_away) == (0.5, 0.25, 0.25)


def test_a_what_if_multiplies_who_comes_of_a_grown_company():
    fair = {"name": "Fair", "first": "2027-03-08", "attendance": 0.9}
    plan = does(small(), "add-what-if", **fair, growth=0.1, shift_minutes=-30)
    event = plan.events[-1]
    assert (event.factor, event.shift_minutes, event.groups) == (0.99, -30, ())
    assert (event.when.first, event.when.last) == (date(2027, 3, 8), date(2027, 3, 14))
    with pytest.raises(PlanError, match="called 'Fair' already"):
        does(plan, "add-what-if", name="Fair", first="2027-03-08")


def test_a_group_comes_with_what_it_needs():
    empty = plan_of({"name": "Empty", "week_of": "2027-03-01"})
    plan = does(empty, "add-group", name="Desk", kind="drop-in", zone="Europe/Lisbon")
    assert edited(plan) and plan.sites[0].time_zone == "Europe/Lisbon" and not plan.access
    rates = plan.groups[0].demand.arrivals_per_hour
    assert sum(map(sum, rates)) == 5 * 8 * 20
    more = does(small(), "add-group", name="More", zone="Europe/Lisbon")
    assert edited(more) and more.sites == small().sites
    assert more.access[-1].group == "more" and more.access[-1].pool == small().pools[0].id
    assert more.groups[-1].demand.people == 50
    with pytest.raises(PlanError, match="called 'MORE' already"):
        does(more, "add-group", name="MORE")


@pytest.mark.parametrize(
    ("start", "begins"),
    [
        ("08:45", ["00:00", "07:45", "17:00"]),
        ("08:47", ["00:00", "07:45", "17:00"]),
        ("00:20", ["00:00", "00:05", "17:00"]),  # not before midnight
        ("16:00", ["00:00", "15:00", "17:00"]),  # until midnight
        ("18:00", ["12:00", "17:00", "02:00"]),  # across midnight: the day begins at noon
    ],
)
def test_a_plan_begins_with_a_host_an_hour_before_people_come(start, begins):
    facts = {
        "people": 40,
        "zone": "Europe/Lisbon",
        "start": start,
        "hours": 8,
        "vcpu": 8,
        "memory_gib": 32,
        "hourly": "0.40",
        "hosts": 6,
        "session_limit": 12,
    }
    plan = does(plan_of({"name": "Empty", "week_of": "2027-03-01"}), "begin-plan", **facts)
    assert starts(plan) == begins and edited(plan)
    assert plan.pools[0].hosts.standing == 6 and plan.pools[0].session_limit == 12
    planned = does(plan_of({"name": "Some", "week_of": "2027-03-01"}), "add-group", name="people")
    both = does(planned, "begin-plan", **facts)
    assert [(each.group, each.pool) for each in both.access] == [
        ("people", "shared"),
        ("people-2", "shared"),
    ]
    assert [site.time_zone for site in both.sites] == ["UTC", "Europe/Lisbon"] and edited(both)
    with pytest.raises(PlanError, match="has pools already"):
        does(plan, "begin-plan", **facts)


def test_a_pool_of_another_kind_loses_what_that_kind_cannot_have():
    given = document()
    given["pools"][0] |= {
        "hosts": {"standing": 5, "surge": 3, "throwaway": True},
        "session_limit": 12,
        "reset_seconds": 60,
    }
    shared, name = plan_of(given), given["pools"][0]["id"]
    lent = does(shared, "set-kind", pool=name, kind="lent").pools[0]
    assert (lent.kind, lent.session_limit, lent.reset_seconds) == ("lent", 1, 60)
    assert lent.hosts == shared.pools[0].hosts
    dedicated = does(shared, "set-kind", pool=name, kind="dedicated")
    own = dedicated.pools[0]
    assert (own.hosts.standing, own.hosts.surge, own.hosts.throwaway) == (8, 0, False)
    assert (own.session_limit, own.reset_seconds) == (1, 0) and edited(dedicated)
    listed = replace(own, assigned=(Assigned(given["groups"][0]["id"], 1, 1),))
    back = does(replace(dedicated, pools=(listed,)), "set-kind", pool=name, kind="shared").pools[0]
    assert back.assigned == () and back.session_limit == 1


def test_a_target_asks_for_the_highest_floor_when_its_band_begins():
    plan = does(small(), "add-target", **DAY)
    (target,) = plan.schedules[0].day_types[0].ready_by
    assert (target.at, target.hosts, target.share) == (27_000, 4, 0.0)  # 07:30
    assert edited(plan)
    # The next one takes the next band, in the order of the day; then there is none left.
    three = does(does(plan, "add-target", **DAY), "add-target", **DAY)
    assert [t.at for t in three.schedules[0].day_types[0].ready_by] == [0, 27_000, 61_200]
    with pytest.raises(PlanError, match="every band"):
        does(three, "add-target", **DAY)
    left = does(three, "remove-target", **DAY, at="07:30")
    assert [t.at for t in left.schedules[0].day_types[0].ready_by] == [0, 61_200]
    with pytest.raises(UnknownNameError, match="07:30"):
        does(left, "remove-target", **DAY, at="07:30")


def test_a_dates_own_rules_begin_with_what_is_ready_by_when_and_take_no_other_kind_away():
    plan = does(small(), "add-target", **DAY)
    kinds = plan.schedules[0].day_types
    rest = DayType("harbour-rest", (), kinds[1].bands, holidays=True)
    schedule = replace(plan.schedules[0], day_types=(*kinds, rest))
    plan = replace(plan, schedules=(schedule,))
    own = does(plan, "give-date-rules", schedule="main", date="2027-03-03")
    assert own.schedules[0].day_type_of(date(2027, 3, 3)).ready_by == kinds[0].ready_by != ()
    back = does(own, "drop-date-rules", schedule="main", date="2027-03-03")
    assert back == plan


def test_a_band_is_split_with_each_drain_step_in_its_half():
    steps = [{"by": "18:00", "share": 0.25}, {"by": "20:00", "share": 0.5}]
    document_of = to_values(small())
    document_of["schedules"][0]["day_types"][0]["bands"][2]["drain_steps"] = steps
    plan = does(plan_of(document_of), "split-band", **DAY, at="19:00")
    assert edited(plan)
    halves = to_values(plan)["schedules"][0]["day_types"][0]["bands"][2:]
    assert [band["drain_steps"] for band in halves] == [steps[:1], steps[1:]]


BY_CPU = {**DAY, "band": "07:30", "signal": "cpu"}


class TestLoadRules:
    def test_one_is_added_at_work_in_the_band_and_the_next_has_another_name(self):
        plan = does(small(), "add-load-rule", **BY_CPU)
        plan = does(plan, "add-load-rule", **BY_CPU)
        names = [rule.id for rule in plan.schedules[0].load_rules]
        assert names == ["cpu", "cpu-2"]
        bands = plan.schedules[0].day_types[0].bands
        assert [band.load_rules for band in bands] == [(), ("cpu", "cpu-2"), ()]

    def test_each_signal_begins_with_marks_that_can_be(self):
        for signal in SIGNALS:
            plan = does(small(), "add-load-rule", **{**BY_CPU, "signal": signal})
            plan_of(to_values(plan))
            (rule,) = plan.schedules[0].load_rules
            named = {"schedule": "main", "rule": rule.id}
            other = does(plan, "set-signal", **named, signal="free slots")
            plan_of(to_values(other))
            assert other.schedules[0].load_rules[0].signal == "free slots"

    def test_a_mark_that_was_left_out_stays_so_with_another_signal(self):
        plan = does(small(), "add-load-rule", **BY_CPU)
        schedule = plan.schedules[0]
        only = replace(schedule.load_rules[0], permits_at=None)
        plan = replace(plan, schedules=(replace(schedule, load_rules=(only,)),))
        plan = does(plan, "set-signal", schedule="main", rule="cpu", signal="logon time")
        assert plan.schedules[0].load_rules[0].permits_at is None
        assert plan.schedules[0].load_rules[0].asks_at == 60.0

    def test_one_is_taken_away_with_its_name_in_the_bands(self):
        plan = does(small(), "add-load-rule", **BY_CPU)
        assert does(plan, "remove-load-rule", schedule="main", rule="cpu") == small()

    def test_what_is_not_there_is_told_with_what_is(self):
        for verb, values in (
            ("remove-load-rule", {"schedule": "main", "rule": "cpu"}),
            ("set-signal", {"schedule": "main", "rule": "cpu", "signal": "cpu"}),
            ("add-load-rule", {**BY_CPU, "day_type": "feast"}),
            ("add-load-rule", {**BY_CPU, "band": "07:35"}),
        ):
            with pytest.raises(UnknownNameError):
                does(small(), verb, **values)
