"""Every field about hosts changes a simulated or computed figure, or is a check."""

import json
from copy import deepcopy
from datetime import date
from decimal import Decimal
from pathlib import Path

import pytest

from idle_harbor.core.checks import findings_of
from idle_harbor.core.engine.setting import Drill
from idle_harbor.core.plan.lookup import find_pool
from idle_harbor.core.sizing.hosts import sizing_of
from idle_harbor.core.sizing.peak import Wish
from idle_harbor.core.sizing.places import places_for
from idle_harbor.core.weeks.case import case_of
from idle_harbor.core.weeks.kinds import compare_kinds
from idle_harbor.core.weeks.summary import figures_of, simulate
from idle_harbor.core.weeks.week import week
from idle_harbor.formats.plan.codec import plan_of
from idle_harbor.formats.reports.figures import figures_values
from tests.changes import another_pool, changed, several
from tests.core.plans import document

HOSTS = Path(__file__).with_name("hosts.json")


def whole():
    """A plan in which every field about hosts has something to act on."""
    given = document() | json.loads(HOSTS.read_text())
    given["groups"][0]["data_areas"] = ["A"]
    return given


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


SEEN = (figures, mornings, sizing, checks, placed)
ON_BURST, ON_FREE = "POOL/size = burst", "POOL/size = free"
SETTLED, BOOTED = "START/counts_from = settled", "START/counts_from = booted"
#: Starts of which some take very long, and a policy that looks every minute.
LATE = (
    "/schedules/0/tick_seconds = 60; START/mean_seconds = 900; START/cv = 2; START/parallel = None"
)
TIMED = "EVENING/timeouts = {'idle': 3600, 'disconnected': 3600}"
STEPS = "EVENING/drain_steps = [{'by': '17:30', 'share': 0.3}]; EVENING/release = keep all"
#: Hosts enough that not all of them are needed in the evening.
DRAINS = "EVENING/release = drain; EVENING/rule = spread"
#: Everyone who is still there in the evening, at work or not, after five minutes.
TOLD = """
EVENING/release = drain with notice; EVENING/rule = spread
EVENING/notice = {'minutes': 5, 'who': 'everyone'}
"""
LOADED = """
/schedules/0/load_rules = [{'id': 'busy', 'signal': 'people at work'}]
RULE/asks_at = 50; RULE/asks_hold_minutes = 0; RULE/permits_at = 45; RULE/permits_hold_minutes = 0
RULE/pause_minutes = 10; DAY/load_rules = ['busy']; DAY/release = when empty
POOL/hosts = {'standing': 20, 'surge': 8}
"""
KEPT = "/sites/0/holidays = {'own': [{'day': '2027-03-03', 'name': 'Quay day'}]}"
WEEK = "REST_DAY/ranges = [{'from': '2027-03-03', 'to': '2027-03-03'}]"
TARGET = "WORKDAY/ready_by = [{'at': '04:00', 'hosts': 5}]"
FAR = "/sites/- = {'id': 'far', 'time_zone': 'America/Halifax'}"
HERE = "/schedules/0/site = here"
STORM = """
/events = [{'id': 'storm', 'when': {'kind': 'dates', 'from': '2027-03-03', 'to': '2027-03-03'}}]
"""

#: field: the change; what the plan has besides; what then differs, where it is no figure
CASES = {
    "sizes.vcpu": "SIZE/vcpu = 5",
    "sizes.memory_gib": "SIZE/memory_gib = 12",
    "sizes.gpu_gib": "SIZE/gpu_gib = 8",
    "sizes.disk_ops": "SIZE/disk_ops = 60",
    "sizes.network_mbit": "SIZE/network_mbit = 10",
    "sizes.cache_gib": ("SIZE/cache_gib = 20", "POOL/hosts/throwaway = True", checks),
    "sizes.quota": "SIZE/quota = 24",
    "sizes.hourly": ("SIZE/hourly = '0.5'", "/places/0/offers/0/hourly = None"),
    "sizes.billing_step_seconds": "SIZE/billing_step_seconds = 3600",
    "sizes.billing_minimum_seconds": "SIZE/billing_minimum_seconds = 80000",
    "sizes.burst.baseline": ("/sizes/2/burst/baseline = 0.2", ON_BURST),
    "sizes.burst.first": ("/sizes/2/burst/first = 1.4", ON_BURST),
    "sizes.burst.most": ("/sizes/2/burst/most = 30", ON_BURST),
    "sizes.free.per_vcpu": ("/sizes/1/free/per_vcpu = '0.03'", ON_FREE),
    "sizes.free.per_gib": ("/sizes/1/free/per_gib = '0.002'", ON_FREE),
    "sizes.machine.hosts": "SIZE/machine/hosts = 2",
    "sizes.machine.hourly": "SIZE/machine/hourly = '0.6'",
    "sizes.committed.years": ("SIZE/committed/0/years = 3", sizing),
    "sizes.committed.hourly": ("SIZE/committed/0/hourly = '0.2'", sizing),
    "disks.gib": ("/disks/0/gib = 40", checks),
    "disks.monthly_on": "/disks/0/monthly_on = '9'",
    "disks.monthly_off": "/disks/0/monthly_off = '4'",
    "images.gib": ("/images/0/gib = 200", checks),
    "images.display": ("/images/0/display = ['other']", checks),
    "images.tuning.cpu": ("/images/0/tuning/cpu = 0.5", sizing),
    "images.tuning.memory": ("/images/0/tuning/memory = 0.4", sizing),
    "images.system": ("/images/0/system = one session", checks),
    "places.area": ("/places/0/area = B", checks),
    "places.zones": (
        "/places/0/zones = ['z1', 'z2', 'z3']",
        "POOL/zones = []; /places/0/offers/0/zones = []",
    ),
    "places.starts_at_once": "/places/0/starts_at_once = 1",
    "places.offers.zones": ("/places/0/offers/0/zones = ['z1']", "POOL/zones = []", sizing),
    "places.offers.hourly": "/places/0/offers/0/hourly = '0.3'",
    "places.lines.round_trip_ms": "/places/0/lines/0/round_trip_ms = 200",
    "prices.egress_gib": "/prices/egress_gib = '0.1'",
    "prices.address_month": "/prices/address_month = '3'",
    "prices.licences.monthly": "/prices/licences/0/monthly = '6'",
    "prices.licences.pools": ("/prices/licences/0/pools = ['other']", another_pool),
    "prices.licences.per": (
        "/prices/licences/0/per = peak session",
        "PEOPLE/patterns/0/attendance = {'mon': 0.5}",
    ),
    "pools.time_zone": "POOL/time_zone = America/Halifax",
    "pools.place": "POOL/place = None; POOL/zones = []",
    "pools.zones": "POOL/zones = ['z1']",
    "pools.hosts.standing": "POOL/hosts/standing = 7",
    "pools.hosts.surge": "POOL/hosts/surge = 2",
    "pools.hosts.throwaway": "POOL/hosts/throwaway = True",
    "pools.hosts.surge_stays_minutes": (
        "POOL/hosts/surge_stays_minutes = 600",
        "DAY/release = when empty",
    ),
    "schedules.day_types.bands.floor_share": "DAY/floor_share = 1.0",
    "schedules.day_types.bands.headroom_share": "DAY/headroom_share = 1",
    "schedules.day_types.bands.lid": ("DAY/lid = 3", "DAY/floor = 1"),
    "schedules.day_types.bands.session_limit": "DAY/session_limit = 3",
    "schedules.day_types.bands.knock": (
        "DAY/knock = True",
        "DAY/floor = 0; DAY/headroom = 0; DAY/fill_ceiling = 1",
    ),
    "schedules.day_types.bands.mark": ("DAY/mark = 0.3", "DAY/rule = fill to a mark"),
    "schedules.day_types.bands.margin": ("EVENING/margin = 4", DRAINS),
    "schedules.day_types.bands.least_run_minutes": ("EVENING/least_run_minutes = 1000", DRAINS),
    "schedules.day_types.bands.draining_most": ("EVENING/draining_most = 1", DRAINS),
    "schedules.day_types.bands.draining_share": ("EVENING/draining_share = 0.1", DRAINS),
    "schedules.day_types.ready_by.at": ("WORKDAY/ready_by/0/at = 06:00", TARGET),
    "schedules.day_types.ready_by.hosts": ("WORKDAY/ready_by/0/hosts = 6", TARGET),
    "schedules.day_types.ready_by.share": ("WORKDAY/ready_by/0/share = 1.0", TARGET),
    "schedules.day_types.ready_by.until": ("WORKDAY/ready_by/0/until = 05:00", TARGET),
    "schedules.day_types.ready_by.clock_of": ("WORKDAY/ready_by/0/clock_of = far", TARGET, FAR),
    "pools.start.failure_share": "START/failure_share = 0.2",
    "schedules.site": (HERE, KEPT, FAR, "/schedules/0/site = far; REST_DAY/holidays = True"),
    "schedules.day_types.holidays": ("REST_DAY/holidays = True", KEPT, HERE),
    "schedules.day_types.month_end": ("REST_DAY/month_end = 2", "/week_of = 2027-03-29", HERE),
    "schedules.day_types.events": ("REST_DAY/events = ['storm']", STORM),
    "schedules.day_types.ranges.from": ("REST_DAY/ranges/0/from = 2027-03-02", WEEK),
    "schedules.day_types.ranges.to": ("REST_DAY/ranges/0/to = 2027-03-04", WEEK),
    "schedules.day_types.bands.timeouts.idle": ("EVENING/timeouts/idle = 60", TIMED),
    "schedules.day_types.bands.timeouts.disconnected": (
        "EVENING/timeouts/disconnected = 60",
        TIMED,
    ),
    "schedules.day_types.bands.drain_steps.by": ("EVENING/drain_steps/0/by = 17:00", STEPS),
    "schedules.day_types.bands.drain_steps.share": ("EVENING/drain_steps/0/share = 0.9", STEPS),
    "schedules.day_types.bands.notice.minutes": ("EVENING/notice/minutes = 90", TOLD),
    "schedules.day_types.bands.notice.who": ("EVENING/notice/who = disconnected", TOLD),
    "schedules.day_types.bands.load_rules": ("DAY/load_rules = []", LOADED),
    "schedules.load_rules.signal": ("RULE/signal = people waiting", LOADED),
    "schedules.load_rules.asks_at": ("RULE/asks_at = 60", LOADED),
    "schedules.load_rules.asks_hold_minutes": ("RULE/asks_hold_minutes = 90", LOADED),
    "schedules.load_rules.adds": ("RULE/adds = 5", LOADED),
    "schedules.load_rules.permits_at": ("RULE/permits_at = 2", LOADED),
    "schedules.load_rules.permits_hold_minutes": ("RULE/permits_hold_minutes = 300", LOADED),
    "schedules.load_rules.takes_back": ("RULE/takes_back = 2", LOADED),
    "schedules.load_rules.pause_minutes": ("RULE/pause_minutes = 120", LOADED),
    "pools.create.mean_seconds": "POOL/create/mean_seconds = 900",
    "pools.create.cv": "POOL/create/cv = 1",
    "pools.create.script_seconds": "POOL/create/script_seconds = 600",
    "pools.session_limit": "POOL/session_limit = 7",
    "pools.start.mean_seconds": "START/mean_seconds = 600",
    "pools.start.cv": "START/cv = 1",
    "pools.start.counts_from": (SETTLED, LATE, mornings),
    "pools.start.booted_share": ("START/booted_share = 0.05", BOOTED, LATE, mornings),
    "pools.start.settle_seconds": ("START/settle_seconds = 0", SETTLED, LATE, mornings),
    "pools.start.parallel": "START/parallel = 1",
    "pools.stop_seconds": "POOL/stop_seconds = 300",
    "pools.reset_seconds": "POOL/reset_seconds = 3000",
    "pools.patience_seconds": "POOL/patience_seconds = 1",
    "pools.idle_timeout": "POOL/idle_timeout = 300",
    "pools.disconnected_timeout": "POOL/disconnected_timeout = 7000",
    "pools.reconnect_seconds": "POOL/reconnect_seconds = 600",
    "pools.load.limit": "POOL/load = {'limit': 0.4}",
    "pools.load.tolerance": ("POOL/load = {'tolerance': 0.4}", sizing),
    "pools.load.base_vcpu": "POOL/load = {'base_vcpu': 4}",
    "pools.load.base_gib": "POOL/load = {'base_gib': 22}",
    "pools.apps_at_logon.seconds": "POOL/apps_at_logon/0/seconds = 40",
    "pools.display": ("POOL/display = other", checks),
    "pools.first_date": "POOL/first_date = 2027-03-03",
    "pools.last_date": "POOL/last_date = 2027-03-03",
    "pools.kind": """
        POOL/kind = dedicated; POOL/session_limit = 1; POOL/hosts = {'standing': 70, 'surge': 0}
        POOL/reset_seconds = 0""",
    "profiles.disk_ops": "PROFILE/disk_ops = 60",
    "profiles.gpu_gib": "PROFILE/gpu_gib = 5",
    "profiles.display.monitors": "PROFILE/display/monitors = 9",
    "profiles.display.megapixels": "PROFILE/display/megapixels = 9",
    "profiles.display.quality": "PROFILE/display/quality = fine",
    "profiles.display.mbit.lean": (
        "PROFILE/display/mbit = {'lean': 9}",
        "PROFILE/display/quality = lean",
    ),
    "profiles.display.mbit.standard": "PROFILE/display/mbit = {'standard': 9}",
    "profiles.display.mbit.fine": (
        "PROFILE/display/mbit = {'fine': 9}",
        "PROFILE/display/quality = fine",
    ),
    "profiles.display.busy_minute": "PROFILE/display/busy_minute = 90",
    "profiles.display.vcpu_per_mbit": ("PROFILE/display/vcpu_per_mbit = 2", sizing),
    "profiles.measured.cpu_error": ("PROFILE/measured/cpu_error = 0.2", sizing),
    "profiles.measured.memory_error": (
        "PROFILE/measured/memory_error = 0.8",
        "SIZE/memory_gib = 16",
        sizing,
    ),
    "groups.data_areas": ("/groups/0/data_areas = ['B']", placed),
    "promise.round_trip_ms": ("/promise/round_trip_ms = 10", placed),
    "promise.zone_loss": (
        "/promise/zone_loss = False",
        "POOL/hosts = {'standing': 10, 'surge': 0}",
        checks,
    ),
    "sites.display": ("/sites/0/display = ['other']", checks),
}


@pytest.mark.parametrize("field", CASES)
def test_the_field_changes_something(field):
    case = several(CASES[field])
    seen = next((part for part in case if part in SEEN), figures)
    change, *besides = (part for part in case if part not in SEEN)
    before = changed(whole(), *besides)
    after = changed(deepcopy(before), change)
    assert seen(plan_of(before)) != seen(plan_of(after))


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
