"""What cannot be about hosts and pools, and what the first checks find."""

from __future__ import annotations

import pytest

from idle_harbor.core.checks import FAMILIES, findings_of
from idle_harbor.core.errors import PlanError
from idle_harbor.formats.plan.codec import plan_of
from tests.core.plan.test_host_fields_matter import both, put, whole
from tests.core.plans import document

POOL, FREE, BURST = ["pools", 0], ["sizes", 1], ["sizes", 2]
LENT = both(put(*POOL, "kind", "lent"), put(*POOL, "session_limit", 1))
OWN = both(
    put(*POOL, "kind", "dedicated"),
    put(*POOL, "session_limit", 1),
    put(*POOL, "hosts", {"standing": 9}),
    put(*POOL, "reset_seconds", 0),
)


@pytest.mark.parametrize(
    ("change", "pointer", "says"),
    [
        (put(*POOL, "kind", "lent"), "/pools/0/session_limit", "set the session limit to 1"),
        (
            both(LENT, put(*POOL, "assigned", [{"group": "people", "person": 1, "host": 1}])),
            "/pools/0/assigned",
            "hosts of a lent pool are nobody's",
        ),
        (
            both(OWN, put(*POOL, "hosts", {"standing": 9, "surge": 2})),
            "/pools/0/hosts/surge",
            "would be lost with 2 surge hosts",
        ),
        (
            both(OWN, put(*POOL, "hosts", {"standing": 9, "throwaway": True})),
            "/pools/0/hosts/throwaway",
            "would be lost on throwaway hosts",
        ),
        (both(OWN, put(*POOL, "reset_seconds", 60)), "/pools/0/reset_seconds", "set the reset to"),
        (put(*POOL, "hosts", {"standing": 9_000, "surge": 2_000}), "/pools/0/hosts", "10,000"),
        (
            both(put(*POOL, "first_date", "2027-03-05"), put(*POOL, "last_date", "2027-03-01")),
            "/pools/0/last_date",
            "is before the first",
        ),
        (
            put(*POOL, "apps_at_logon", [{"app": "A"}, {"app": "A"}]),
            "/pools/0/apps_at_logon/1/app",
            "twice",
        ),
        (put(*POOL, "place", None), "/pools/0/zones", "no place is named"),
        (put(*POOL, "place", "moon"), "/pools/0/place", "there is no place 'moon'"),
        (put(*POOL, "zones", ["z9"]), "/pools/0/zones/0", "there is no zone of 'near' 'z9'"),
        (put(*POOL, "zones", ["z1", "z1"]), "/pools/0/zones/1", "used twice"),
        (put("places", 0, "offers", 0, "size", "x"), "/places/0/offers/0/size", "no host size"),
        (put("places", 0, "offers", 0, "zones", ["q"]), "/places/0/offers/0/zones/0", "no zone"),
        (put("places", 0, "lines", 0, "site", "x"), "/places/0/lines/0/site", "no site 'x'"),
        (put("prices", "licences", 0, "pools", ["x"]), "/prices/licences/0/pools/0", "no pool"),
        (put(*BURST, "burst", "first", 9), "/sizes/2/burst/first", "keeps at most"),
        (put(*FREE, "vcpu", 5), "/sizes/1/vcpu", "from 2 to 8 in steps of 2"),
        (put(*FREE, "vcpu", 10), "/sizes/1/vcpu", "10 vCPU are not among those"),
        (put(*FREE, "memory_gib", 64), "/sizes/1/memory_gib", "choose from 8 to 32 GiB"),
        (put(*FREE, "free", "vcpu_low", 9), "/sizes/1/free/vcpu_low", "nothing to choose"),
        (put(*FREE, "free", "gib_per_vcpu_low", 9), "/sizes/1/free/gib_per_vcpu_low", "nothing"),
        (
            put("schedules", 0, "day_types", 0, "bands", 0, "floor", 15),
            "/schedules/0/day_types/0/bands/0/floor",
            "14 hosts (6 standing, 8 surge)",
        ),
    ],
)
def test_a_plan_that_cannot_be(change, pointer, says):
    given = whole()
    change(given)
    with pytest.raises(PlanError) as caught:
        plan_of(given)
    faults = {fault.pointer: fault.line() for fault in caught.value.faults}
    assert pointer in faults and says in faults[pointer], faults


def found(change, given=None):
    given = whole() if given is None else given
    change(given)
    return {each.finding.check: each.finding for each in findings_of(plan_of(given))}


def few(standing):
    return put(*POOL, "hosts", {"standing": standing, "surge": 0})


@pytest.mark.parametrize(
    ("change", "check", "severity", "pointer", "matters"),
    [
        (few(4), "too-few-hosts", "harm", "/pools/0/hosts/standing", "find no room at the peak"),
        (
            put("sizes", 0, "memory_gib", 4),
            "size-too-small",
            "harm",
            "/pools/0/size",
            "strained host",
        ),
        (
            put(*POOL, "session_limit", 9),
            "limit-above-density",
            "doubt",
            "/pools/0/session_limit",
            "people on a full host",
        ),
        (
            both(put(*POOL, "size", "burst")),
            "lives-on-credits",
            "doubt",
            "/pools/0/size",
            "credits are spent",
        ),
        (few(10), "zone-loss", "harm", "/pools/0/hosts/standing", "while a zone is lost"),
        (
            put("sizes", 0, "quota", 50),
            "over-quota",
            "harm",
            "/sizes/0/quota",
            "of these hosts cannot exist",
        ),
        (
            put(*POOL, "last_date", "2027-02-01"),
            "pool-not-there",
            "harm",
            "/pools/0/last_date",
            "60 people",
        ),
        (
            put(*POOL, "first_date", "2027-03-03"),
            "pool-not-there",
            "doubt",
            "/pools/0/first_date",
            "60 people",
        ),
        (
            put("images", 0, "system", "one session"),
            "system-one-session",
            "harm",
            "/pools/0/kind",
            "60 people",
        ),
        (
            put("images", 0, "display", ["video"]),
            "display-not-in-image",
            "harm",
            "/pools/0/display",
            "60 people see nothing",
        ),
        (
            put("sites", 0, "display", ["video"]),
            "display-not-at-site",
            "harm",
            "/pools/0/display",
            "cannot connect",
        ),
        (
            both(put(*POOL, "hosts", "throwaway", True), put("images", 0, "gib", 51)),
            "image-over-cache",
            "harm",
            "/pools/0/hosts/throwaway",
            "none of the 14 hosts",
        ),
        (put("disks", 0, "gib", 30), "image-over-disk", "harm", "/pools/0/disk", "none of the 14"),
        (
            put("places", 0, "offers", [{"size": "free"}]),
            "size-not-at-place",
            "harm",
            "/pools/0/size",
            "none of the 14 hosts",
        ),
        (
            put("places", 0, "offers", 0, "zones", ["z1"]),
            "size-not-in-zone",
            "harm",
            "/pools/0/zones/1",
            "about 7 of 14",
        ),
        (
            put("groups", 0, "data_areas", ["B"]),
            "data-elsewhere",
            "harm",
            "/pools/0/place",
            "60 people may not work there",
        ),
        (put("places", 0, "lines", []), "line-not-measured", "doubt", "/pools/0/place", "60"),
        (
            put("places", 0, "lines", 0, "round_trip_ms", 150),
            "slow-line",
            "harm",
            "/pools/0/place",
            "all working time of 60 people",
        ),
    ],
)
def test_a_check_finds_where_why_and_a_mend(change, check, severity, pointer, matters):
    assert check not in found(put("promise", "zone_loss", False))
    finding = found(change)[check]
    assert (finding.severity, finding.pointer) == (severity, pointer)
    assert matters in finding.matters and finding.mend


@pytest.mark.parametrize(
    ("change", "check"),
    [
        (few(4), "too-few-hosts"),
        (put(*POOL, "session_limit", 9), "limit-above-density"),
        (few(10), "zone-loss"),
        (put("sizes", 0, "quota", 50), "over-quota"),
        (put("images", 0, "display", ["video"]), "display-not-in-image"),
        (
            both(put(*POOL, "hosts", "throwaway", True), put("images", 0, "gib", 51)),
            "image-over-cache",
        ),
    ],
)
def test_a_mend_that_is_one_value_mends(change, check):
    given = whole()
    finding = found(change, given)[check]
    *way, last = finding.does.pointer.strip("/").split("/")
    at = given
    for part in way:
        at = at[int(part)] if isinstance(at, list) else at[part]
    at[int(last) if isinstance(at, list) else last] = finding.does.value
    assert check not in found(both(), given)


def test_the_plain_plan_has_nothing_to_find():
    assert findings_of(plan_of(document())) == []


def test_harm_comes_first_and_every_family_says_what_it_is_about():
    given = whole()
    both(few(4), put(*POOL, "session_limit", 9), put("places", 0, "lines", []))(given)
    severities = [each.finding.severity for each in findings_of(plan_of(given))]
    assert severities == sorted(severities, reverse=True) and len(set(severities)) == 2
    assert len({family.id for family in FAMILIES}) == len(FAMILIES)
    assert all(family.about for family in FAMILIES)


def test_a_pool_of_one_day_can_be():
    given = whole()
    for end in ("first_date", "last_date"):
        put(*POOL, end, "2027-03-05")(given)
    assert plan_of(given).pools[0].first_date == plan_of(given).pools[0].last_date
