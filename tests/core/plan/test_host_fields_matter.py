"""Every field about hosts changes a simulated or computed figure, or is a check."""

from __future__ import annotations

from copy import deepcopy
from datetime import date
from decimal import Decimal

import pytest

from idle_harbor.core.checks import findings_of
from idle_harbor.core.engine.run import Drill
from idle_harbor.core.lookup import find_pool
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.kinds import compare_kinds
from idle_harbor.core.sizing.peak import Wish
from idle_harbor.core.sizing.places import places_for
from idle_harbor.core.summary import figures_of, simulate
from idle_harbor.core.weeks import case_of, week
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.formats.reports.figures import figures_values
from tests.core.plans import document

WORKDAYS = ("mon", "tue", "wed", "thu", "fri")


def whole():
    """A plan in which every field about hosts has something to act on."""
    base = document()
    size = {
        "id": "main", "vcpu": 8, "memory_gib": 32, "gpu_gib": 24, "disk_ops": 120,
        "network_mbit": 40, "cache_gib": 50, "quota": 200, "hourly": "0.4",
        "billing_step_seconds": 600, "billing_minimum_seconds": 1200,
        "machine": {"hosts": 4, "hourly": "0.5"},
        "committed": [{"years": 1, "hourly": "0.3"}],
    }  # fmt: skip
    free = {
        "id": "free",
        "vcpu": 4,
        "memory_gib": 16,
        "hourly": "0.01",
        "free": {
            "vcpu_low": 2,
            "vcpu_high": 8,
            "vcpu_step": 2,
            "gib_per_vcpu_low": 2,
            "gib_per_vcpu_high": 8,
            "per_vcpu": "0.02",
            "per_gib": "0.001",
        },
    }
    burst = {
        "id": "burst",
        "vcpu": 4,
        "memory_gib": 16,
        "hourly": "0.1",
        "burst": {"baseline": 0.4, "first": 0.2, "most": 1.5},
    }
    base["sizes"] = [size, free, burst]
    base["places"] = [
        {
            "id": "near",
            "area": "A",
            "zones": ["z1", "z2"],
            "offers": [
                {"size": "main", "zones": ["z1", "z2"], "hourly": "0.45"},
                {"size": "free"},
                {"size": "burst"},
            ],
            "lines": [{"site": "here", "round_trip_ms": 20}],
        },
    ]
    base["profiles"] = [
        {
            "id": "office",
            "cpu": {"mean": 0.5, "sd": 0.3},
            "disk_ops": 15,
            "gpu_gib": 2,
            "display": {
                "monitors": 2,
                "megapixels": 2,
                "quality": "standard",
                "vcpu_per_mbit": 0.01,
            },
            "measured": {"sessions": 9, "cpu_error": 0.05, "memory_error": 0.2, "source": "x"},
        }
    ]
    base["images"] = [
        {"id": "image", "gib": 45, "display": ["plain"], "tuning": {"cpu": 0.9, "memory": 0.9}}
    ]
    base["prices"] = {
        "egress_gib": "0.05",
        "address_month": "2",
        "credits": "10",
        "licences": [{"id": "l", "monthly": "5", "per": "named person", "pools": ["main"]}],
    }
    base["promise"] = {"zone_loss": True}
    base["groups"][0]["data_areas"] = ["A"]
    base["sites"][0]["display"] = ["plain"]
    base["pools"][0] = {
        "id": "main", "time_zone": "Europe/Dublin", "size": "main", "disk": "deck-100",
        "place": "near", "zones": ["z1", "z2"], "image": "image", "display": "plain",
        "hosts": {"standing": 6, "surge": 8}, "session_limit": 6, "schedule": "main",
        "create": {"mean_seconds": 300, "cv": 0.4, "script_seconds": 60},
        "start": {"mean_seconds": 200, "cv": 0.3, "booted_share": 0.5, "settle_seconds": 400,
                  "counts_from": "powered", "parallel": 2},
        "reset_seconds": 30, "apps_at_logon": [{"app": "Extra", "seconds": 5}],
        "idle_timeout": 1800, "disconnected_timeout": 900,
    }  # fmt: skip
    base["disks"] = [{"id": "deck-100", "gib": 128, "monthly_on": "9.20", "monthly_off": "4.60"}]
    return base


def put(*path):
    """A change that sets one field (the last argument is the value)."""
    *way, last, value = path

    def change(given):
        at = given
        for key in way:
            at = at[key]
        at[last] = value

    return change


def both(*changes):
    return lambda given: [change(given) for change in changes]


def figures(plan):
    """As they are told, so that the last digit of a sum is no difference."""
    case = case_of(plan, "main", drills=[Drill(3 * 86_400 + 40_000, 7_200, zone=1)])
    return figures_values(figures_of(case, [week(case, 1)]))


def mornings(plan):
    """Weeks enough for some of their starts to be overdue."""
    return figures_values(simulate(plan, "main", 12))


def sizing(plan):
    return sizing_of(plan, find_pool(plan, "main"), Wish(seeds=2))


def checks(plan):
    return [(each.finding.check, each.finding.message) for each in findings_of(plan)]


def placed(plan):
    return [
        (v.place.id, v.behind, v.data_allowed, v.per_session_hour)
        for v in places_for(plan, find_pool(plan, "main"), "people")
    ]


POOL, SIZE, PROFILE = ["pools", 0], ["sizes", 0], ["profiles", 0]
START, CREATE = [*POOL, "start"], [*POOL, "create"]
FREE, BURST = ["sizes", 1], ["sizes", 2]
ON_BURST = put(*POOL, "size", "burst")
SETTLED, BOOTED = put(*START, "counts_from", "settled"), put(*START, "counts_from", "booted")
#: Starts of which some take very long, and a policy that looks every minute.
LATE = both(
    put(*START, "mean_seconds", 900),
    put(*START, "cv", 2),
    put(*START, "parallel", None),
    put("schedules", 0, "tick_seconds", 60),
)
DAY, EVENING = (["schedules", 0, "day_types", 0, "bands", k] for k in (1, 2))
TIMED = put(*EVENING, "timeouts", {"idle": 3_600, "disconnected": 3_600})
STEPS = both(
    put(*EVENING, "drain_steps", [{"by": "17:30", "share": 0.3}]),
    put(*EVENING, "release", "keep all"),
)
#: Everyone who is still there in the evening, at work or not, after five minutes.
TOLD = both(
    put(*EVENING, "release", "drain with notice"),
    put(*EVENING, "rule", "spread"),
    put(*EVENING, "notice", {"minutes": 5, "who": "everyone"}),
)
RULE = ["schedules", 0, "load_rules", 0]
LOADED = both(
    put(
        "schedules",
        0,
        "load_rules",
        [
            {
                "id": "busy",
                "signal": "people at work",
                "asks_at": 50,
                "asks_hold_minutes": 0,
                "permits_at": 45,
                "permits_hold_minutes": 0,
                "pause_minutes": 10,
            }
        ],
    ),
    put(*DAY, "load_rules", ["busy"]),
    put(*DAY, "release", "when empty"),
    put(*POOL, "hosts", {"standing": 20, "surge": 8}),
)
REST_DAY = ["schedules", 0, "day_types", 1]
RESTS = put("sites", 0, "holidays", {"own": [{"day": "2027-03-03", "name": "Quay day"}]})
WEEK = put(*REST_DAY, "ranges", [{"from": "2027-03-03", "to": "2027-03-03"}])
READY_BY = ["schedules", 0, "day_types", 0, "ready_by", 0]
TARGET = put("schedules", 0, "day_types", 0, "ready_by", [{"at": "04:00", "hosts": 5}])
#: Hosts enough that not all of them are needed in the evening.
DRAINS = both(put(*EVENING, "release", "drain"), put(*EVENING, "rule", "spread"))
ON_FREE = put(*POOL, "size", "free")
NOTHING = both()
DEDICATED = both(
    put(*POOL, "kind", "dedicated"),
    put(*POOL, "session_limit", 1),
    put(*POOL, "hosts", {"standing": 70, "surge": 0}),
    put(*POOL, "reset_seconds", 0),
)

#: field: (what the plan has besides, the change, what then differs)
CASES = {
    "sizes.vcpu": (NOTHING, put(*SIZE, "vcpu", 5), figures),
    "sizes.memory_gib": (NOTHING, put(*SIZE, "memory_gib", 12), figures),
    "sizes.gpu_gib": (NOTHING, put(*SIZE, "gpu_gib", 8), figures),
    "sizes.disk_ops": (NOTHING, put(*SIZE, "disk_ops", 60), figures),
    "sizes.network_mbit": (NOTHING, put(*SIZE, "network_mbit", 10), figures),
    "sizes.cache_gib": (put(*POOL, "hosts", "throwaway", True), put(*SIZE, "cache_gib", 20),
                        checks),
    "sizes.quota": (NOTHING, put(*SIZE, "quota", 100), checks),
    "sizes.hourly": (put("places", 0, "offers", 0, "hourly", None), put(*SIZE, "hourly", "0.5"),
                     figures),
    "sizes.billing_step_seconds": (NOTHING, put(*SIZE, "billing_step_seconds", 3600), figures),
    "sizes.billing_minimum_seconds": (NOTHING, put(*SIZE, "billing_minimum_seconds", 80_000),
                                      figures),
    "sizes.burst.baseline": (ON_BURST, put(*BURST, "burst", "baseline", 0.2), figures),
    "sizes.burst.first": (ON_BURST, put(*BURST, "burst", "first", 1.4), figures),
    "sizes.burst.most": (ON_BURST, put(*BURST, "burst", "most", 30), figures),
    "sizes.free.per_vcpu": (ON_FREE, put(*FREE, "free", "per_vcpu", "0.03"), figures),
    "sizes.free.per_gib": (ON_FREE, put(*FREE, "free", "per_gib", "0.002"), figures),
    "sizes.machine.hosts": (NOTHING, put(*SIZE, "machine", "hosts", 2), figures),
    "sizes.machine.hourly": (NOTHING, put(*SIZE, "machine", "hourly", "0.6"), figures),
    "sizes.committed.years": (NOTHING, put(*SIZE, "committed", 0, "years", 3), sizing),
    "sizes.committed.hourly": (NOTHING, put(*SIZE, "committed", 0, "hourly", "0.2"), sizing),
    "disks.gib": (NOTHING, put("disks", 0, "gib", 40), checks),
    "disks.monthly_on": (NOTHING, put("disks", 0, "monthly_on", "9"), figures),
    "disks.monthly_off": (NOTHING, put("disks", 0, "monthly_off", "4"), figures),
    "images.gib": (NOTHING, put("images", 0, "gib", 200), checks),
    "images.display": (NOTHING, put("images", 0, "display", ["other"]), checks),
    "images.tuning.cpu": (NOTHING, put("images", 0, "tuning", "cpu", 0.5), sizing),
    "images.tuning.memory": (NOTHING, put("images", 0, "tuning", "memory", 0.4), sizing),
    "images.system": (NOTHING, put("images", 0, "system", "one session"), checks),
    "places.area": (NOTHING, put("places", 0, "area", "B"), checks),
    "places.zones": (both(put(*POOL, "zones", []), put("places", 0, "offers", 0, "zones", [])),
                     put("places", 0, "zones", ["z1", "z2", "z3"]), figures),
    "places.offers.zones": (put(*POOL, "zones", []),
                            put("places", 0, "offers", 0, "zones", ["z1"]), sizing),
    "places.offers.hourly": (NOTHING, put("places", 0, "offers", 0, "hourly", "0.3"), figures),
    "places.lines.round_trip_ms": (NOTHING, put("places", 0, "lines", 0, "round_trip_ms", 200),
                                   figures),
    "prices.egress_gib": (NOTHING, put("prices", "egress_gib", "0.1"), figures),
    "prices.address_month": (NOTHING, put("prices", "address_month", "3"), figures),
    "prices.licences.monthly": (NOTHING, put("prices", "licences", 0, "monthly", "6"), figures),
    "prices.licences.pools": (NOTHING, both(put("prices", "licences", 0, "pools", []),
                                            put("prices", "licences", 0, "pools", ["other"]),
                                            lambda g: g["pools"].append(
                                                {**deepcopy(g["pools"][0]), "id": "other"})),
                              figures),
    "prices.licences.per": (put("groups", 0, "demand", "patterns", 0, "attendance", {"mon": 0.5}),
                            put("prices", "licences", 0, "per", "peak session"), figures),
    "pools.time_zone": (NOTHING, put(*POOL, "time_zone", "America/Halifax"), figures),
    "pools.place": (NOTHING, both(put(*POOL, "place", None), put(*POOL, "zones", [])), figures),
    "pools.zones": (NOTHING, put(*POOL, "zones", ["z1"]), figures),
    "pools.hosts.standing": (NOTHING, put(*POOL, "hosts", "standing", 7), figures),
    "pools.hosts.surge": (NOTHING, put(*POOL, "hosts", "surge", 2), figures),
    "pools.hosts.throwaway": (NOTHING, put(*POOL, "hosts", "throwaway", True), figures),
    "pools.hosts.surge_stays_minutes": (
        put(*DAY, "release", "when empty"), put(*POOL, "hosts", "surge_stays_minutes", 600), figures
    ),
    "schedules.day_types.bands.floor_share": (NOTHING, put(*DAY, "floor_share", 1.0), figures),
    "schedules.day_types.bands.headroom_share": (NOTHING, put(*DAY, "headroom_share", 1), figures),
    "schedules.day_types.bands.lid": (put(*DAY, "floor", 1), put(*DAY, "lid", 3), figures),
    "schedules.day_types.bands.session_limit": (NOTHING, put(*DAY, "session_limit", 3), figures),
    "schedules.day_types.bands.knock": (
        both(put(*DAY, "floor", 0), put(*DAY, "headroom", 0), put(*DAY, "fill_ceiling", 1)),
        put(*DAY, "knock", True), figures,
    ),
    "schedules.day_types.bands.mark": (
        put(*DAY, "rule", "fill to a mark"), put(*DAY, "mark", 0.3), figures
    ),
    "schedules.day_types.bands.margin": (DRAINS, put(*EVENING, "margin", 4), figures),
    "schedules.day_types.bands.least_run_minutes": (
        DRAINS, put(*EVENING, "least_run_minutes", 1_000), figures
    ),
    "schedules.day_types.bands.draining_most": (DRAINS, put(*EVENING, "draining_most", 1), figures),
    "schedules.day_types.bands.draining_share": (
        DRAINS, put(*EVENING, "draining_share", 0.1), figures
    ),
    "schedules.day_types.ready_by.at": (TARGET, put(*READY_BY, "at", "06:00"), figures),
    "schedules.day_types.ready_by.hosts": (TARGET, put(*READY_BY, "hosts", 6), figures),
    "schedules.day_types.ready_by.share": (TARGET, put(*READY_BY, "share", 1.0), figures),
    "schedules.day_types.ready_by.until": (TARGET, put(*READY_BY, "until", "05:00"), figures),
    "schedules.day_types.ready_by.clock_of": (
        both(TARGET, lambda g: g["sites"].append({"id": "far", "time_zone": "America/Halifax"})),
        put(*READY_BY, "clock_of", "far"), figures,
    ),
    "pools.start.failure_share": (NOTHING, put(*START, "failure_share", 0.2), figures),
    "schedules.site": (
        both(RESTS, put("schedules", 0, "site", None), put(*REST_DAY, "holidays", False),
             lambda g: g["sites"].append({"id": "far", "time_zone": "America/Halifax"}),
             put("schedules", 0, "site", "far"), put(*REST_DAY, "holidays", True)),
        put("schedules", 0, "site", "here"), figures,
    ),
    "schedules.day_types.holidays": (
        both(RESTS, put("schedules", 0, "site", "here")), put(*REST_DAY, "holidays", True), figures
    ),
    "schedules.day_types.month_end": (
        both(put("week_of", "2027-03-29"), put("schedules", 0, "site", "here")),
        put(*REST_DAY, "month_end", 2), figures,
    ),
    "schedules.day_types.events": (
        put("events", [{"id": "storm", "when": {"kind": "dates", "from": "2027-03-03",
                                                "to": "2027-03-03"}}]),
        put(*REST_DAY, "events", ["storm"]), figures,
    ),
    "schedules.day_types.ranges.from": (WEEK, put(*REST_DAY, "ranges", 0, "from", "2027-03-02"),
                                        figures),
    "schedules.day_types.ranges.to": (WEEK, put(*REST_DAY, "ranges", 0, "to", "2027-03-04"),
                                      figures),
    "schedules.day_types.bands.timeouts.idle": (TIMED, put(*EVENING, "timeouts", "idle", 60),
                                                figures),
    "schedules.day_types.bands.timeouts.disconnected": (
        TIMED, put(*EVENING, "timeouts", "disconnected", 60), figures
    ),
    "schedules.day_types.bands.drain_steps.by": (
        STEPS, put(*EVENING, "drain_steps", 0, "by", "17:00"), figures
    ),
    "schedules.day_types.bands.drain_steps.share": (
        STEPS, put(*EVENING, "drain_steps", 0, "share", 0.9), figures
    ),
    "schedules.day_types.bands.notice.minutes": (TOLD, put(*EVENING, "notice", "minutes", 90),
                                                 figures),
    "schedules.day_types.bands.notice.who": (TOLD, put(*EVENING, "notice", "who", "disconnected"),
                                             figures),
    "schedules.day_types.bands.load_rules": (LOADED, put(*DAY, "load_rules", []), figures),
    "schedules.load_rules.signal": (LOADED, put(*RULE, "signal", "people waiting"), figures),
    "schedules.load_rules.asks_at": (LOADED, put(*RULE, "asks_at", 60), figures),
    "schedules.load_rules.asks_hold_minutes": (LOADED, put(*RULE, "asks_hold_minutes", 90),
                                               figures),
    "schedules.load_rules.adds": (LOADED, put(*RULE, "adds", 5), figures),
    "schedules.load_rules.permits_at": (LOADED, put(*RULE, "permits_at", 2), figures),
    "schedules.load_rules.permits_hold_minutes": (LOADED, put(*RULE, "permits_hold_minutes", 300),
                                                  figures),
    "schedules.load_rules.takes_back": (LOADED, put(*RULE, "takes_back", 2), figures),
    "schedules.load_rules.pause_minutes": (LOADED, put(*RULE, "pause_minutes", 120), figures),
    "pools.create.mean_seconds": (NOTHING, put(*CREATE, "mean_seconds", 900), figures),
    "pools.create.cv": (NOTHING, put(*CREATE, "cv", 1), figures),
    "pools.create.script_seconds": (NOTHING, put(*CREATE, "script_seconds", 600), figures),
    "pools.session_limit": (NOTHING, put(*POOL, "session_limit", 7), figures),
    "pools.start.mean_seconds": (NOTHING, put(*START, "mean_seconds", 600), figures),
    "pools.start.cv": (NOTHING, put(*START, "cv", 1), figures),
    "pools.start.counts_from": (LATE, SETTLED, mornings),
    "pools.start.booted_share": (both(BOOTED, LATE), put(*START, "booted_share", 0.05), mornings),
    "pools.start.settle_seconds": (both(SETTLED, LATE), put(*START, "settle_seconds", 0), mornings),
    "pools.start.parallel": (NOTHING, put(*START, "parallel", 1), figures),
    "pools.stop_seconds": (NOTHING, put(*POOL, "stop_seconds", 300), figures),
    "pools.reset_seconds": (NOTHING, put(*POOL, "reset_seconds", 3_000), figures),
    "pools.patience_seconds": (NOTHING, put(*POOL, "patience_seconds", 1), figures),
    "pools.idle_timeout": (NOTHING, put(*POOL, "idle_timeout", 300), figures),
    "pools.disconnected_timeout": (NOTHING, put(*POOL, "disconnected_timeout", 7_000), figures),
    "pools.reconnect_seconds": (NOTHING, put(*POOL, "reconnect_seconds", 600), figures),
    "pools.load.limit": (NOTHING, put(*POOL, "load", {"limit": 0.4}), figures),
    "pools.load.tolerance": (NOTHING, put(*POOL, "load", {"tolerance": 0.4}), sizing),
    "pools.load.base_vcpu": (NOTHING, put(*POOL, "load", {"base_vcpu": 4}), figures),
    "pools.load.base_gib": (NOTHING, put(*POOL, "load", {"base_gib": 22}), figures),
    "pools.apps_at_logon.seconds": (NOTHING,
                                    put(*POOL, "apps_at_logon", 0, "seconds", 40), figures),
    "pools.display": (NOTHING, put(*POOL, "display", "other"), checks),
    "pools.first_date": (NOTHING, put(*POOL, "first_date", "2027-03-03"), figures),
    "pools.last_date": (NOTHING, put(*POOL, "last_date", "2027-03-03"), figures),
    "pools.kind": (NOTHING, DEDICATED, figures),
    "profiles.disk_ops": (NOTHING, put(*PROFILE, "disk_ops", 60), figures),
    "profiles.gpu_gib": (NOTHING, put(*PROFILE, "gpu_gib", 5), figures),
    "profiles.display.monitors": (NOTHING, put(*PROFILE, "display", "monitors", 9), figures),
    "profiles.display.megapixels": (NOTHING, put(*PROFILE, "display", "megapixels", 9), figures),
    "profiles.display.quality": (NOTHING, put(*PROFILE, "display", "quality", "fine"), figures),
    "profiles.display.mbit.lean": (put(*PROFILE, "display", "quality", "lean"),
                                   put(*PROFILE, "display", "mbit", {"lean": 9}), figures),
    "profiles.display.mbit.standard": (NOTHING,
                                       put(*PROFILE, "display", "mbit", {"standard": 9}), figures),
    "profiles.display.mbit.fine": (put(*PROFILE, "display", "quality", "fine"),
                                   put(*PROFILE, "display", "mbit", {"fine": 9}), figures),
    "profiles.display.busy_minute": (NOTHING, put(*PROFILE, "display", "busy_minute", 90), figures),
    "profiles.display.vcpu_per_mbit": (NOTHING, put(*PROFILE, "display", "vcpu_per_mbit", 2),
                                       sizing),
    "profiles.measured.cpu_error": (NOTHING, put(*PROFILE, "measured", "cpu_error", 0.2), sizing),
    "profiles.measured.memory_error": (put(*SIZE, "memory_gib", 16),
                                       put(*PROFILE, "measured", "memory_error", 0.8), sizing),
    "groups.data_areas": (NOTHING, put("groups", 0, "data_areas", ["B"]), placed),
    "promise.round_trip_ms": (NOTHING, put("promise", "round_trip_ms", 10), placed),
    "promise.zone_loss": (put(*POOL, "hosts", {"standing": 10, "surge": 0}),
                          put("promise", "zone_loss", False), checks),
    "sites.display": (NOTHING, put("sites", 0, "display", ["other"]), checks),
}  # fmt: skip


@pytest.mark.parametrize("field", CASES)
def test_the_field_changes_something(field):
    besides, change, seen = CASES[field]
    before = whole()
    besides(before)
    after = deepcopy(before)
    change(after)
    one, other = plan_of(before), plan_of(after)
    assert seen(one) != seen(other)


def test_a_pool_that_is_there_for_a_part_of_the_week_costs_less():
    given = whole()
    given["pools"][0]["last_date"] = "2027-03-03"
    short, long = plan_of(given), plan_of(whole())
    assert case_of(short, "main").priced.pool.last_date == date(2027, 3, 3)
    less, more = (Decimal(figures(plan)["cost"]["month"]) for plan in (short, long))
    assert less < more


def test_kinds_side_by_side_name_what_bars_them():
    given = whole()
    given["images"][0]["system"] = "one session"
    plan = plan_of(given)
    kinds = compare_kinds(plan, find_pool(plan, "main"), "people", seeds=2)
    barred = {view.kind: view.barred for view in kinds.views}
    assert barred["shared"] == "the image's system holds one session"
    assert kinds.suggested in ("lent", "dedicated")
    assert [view.hosts for view in kinds.views][2] == 60
