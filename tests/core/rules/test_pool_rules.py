"""What cannot be about hosts and pools, and what the first checks find."""

import pytest

from idle_harbor.core.checks import FAMILIES, findings_of
from idle_harbor.core.errors import PlanError
from idle_harbor.formats.plan.codec import plan_of
from tests.changes import at, changed, put, table
from tests.core.plan.test_host_fields_matter import whole
from tests.core.plans import document


@pytest.mark.parametrize(
    ("change", "pointer", "says"),
    table("""
POOL/kind = lent | POOL/session_limit | set the session limit to 1
POOL/kind = lent; POOL/session_limit = 1; \
POOL/assigned = [{'group': 'people', 'person': 1, 'host': 1}] | POOL/assigned | \
    hosts of a lent pool are nobody's
POOL/kind = dedicated; POOL/session_limit = 1; POOL/reset_seconds = 0; \
POOL/hosts = {'standing': 9, 'surge': 2} | POOL/hosts/surge | \
    would be lost with 2 surge hosts
POOL/kind = dedicated; POOL/session_limit = 1; POOL/reset_seconds = 0; \
POOL/hosts = {'standing': 9, 'throwaway': True} | POOL/hosts/throwaway | \
    would be lost on throwaway hosts
POOL/kind = dedicated; POOL/session_limit = 1; POOL/reset_seconds = 0; \
POOL/hosts = {'standing': 9}; POOL/reset_seconds = 60 | POOL/reset_seconds | \
    set the reset to
POOL/hosts = {'standing': 9000, 'surge': 2000} | POOL/hosts | 10,000
POOL/first_date = 2027-03-05; POOL/last_date = 2027-03-01 | POOL/last_date | is before the first
POOL/apps_at_logon = [{'app': 'A'}, {'app': 'A'}] | POOL/apps_at_logon/1/app | twice
POOL/place = None | POOL/zones | no place is named
POOL/place = moon | POOL/place | there is no place 'moon'
POOL/zones = ['z9'] | POOL/zones/0 | there is no zone of 'Near' 'z9'
POOL/zones = ['z1', 'z1'] | POOL/zones/1 | used twice
/places/0/offers/0/size = x | /places/0/offers/0/size | no host size
/places/0/offers/0/zones = ['q'] | /places/0/offers/0/zones/0 | no zone
/places/0/lines/0/site = x | /places/0/lines/0/site | no site 'x'
/prices/licences/0/pools = ['x'] | /prices/licences/0/pools/0 | no pool
/sizes/2/burst/first = 9 | /sizes/2/burst/first | keeps at most
/sizes/1/vcpu = 5 | /sizes/1/vcpu | from 2 to 8 in steps of 2
/sizes/1/vcpu = 10 | /sizes/1/vcpu | 10 vCPU are not among those
/sizes/1/memory_gib = 64 | /sizes/1/memory_gib | choose from 8 to 32 GiB
/sizes/1/free/vcpu_low = 9 | /sizes/1/free/vcpu_low | nothing to choose
/sizes/1/free/gib_per_vcpu_low = 9 | /sizes/1/free/gib_per_vcpu_low | nothing
WORKDAY/bands/0/floor = 15 | WORKDAY/bands/0/floor | 14 hosts (6 standing, 8 surge)
"""),
)
def test_a_plan_that_cannot_be(change, pointer, says):
    with pytest.raises(PlanError) as caught:
        plan_of(changed(whole(), change))
    faults = {fault.pointer: fault.line() for fault in caught.value.faults}
    assert says in faults.get(at(pointer), ""), faults


def found(change, given=None):
    given = changed(given or whole(), change)
    return {each.finding.check: each.finding for each in findings_of(plan_of(given))}


@pytest.mark.parametrize(
    ("change", "check", "severity", "pointer", "matters"),
    table("""
POOL/hosts = {'standing': 4, 'surge': 0} | too-few-hosts | harm | POOL/hosts/standing | \
    find no room at the peak
SIZE/memory_gib = 4 | size-too-small | harm | POOL/size | strained host
POOL/session_limit = 9 | limit-above-density | doubt | POOL/session_limit | people on a full host
POOL/size = burst | lives-on-credits | doubt | POOL/size | credits are spent
POOL/hosts = {'standing': 10, 'surge': 0} | zone-loss | harm | POOL/hosts/standing | \
    while a zone is lost
SIZE/quota = 50 | over-quota | harm | SIZE/quota | of these hosts cannot be on while
POOL/last_date = 2027-02-01 | pool-not-there | harm | POOL/last_date | 60 people
POOL/first_date = 2027-03-03 | pool-not-there | doubt | POOL/first_date | 60 people
/images/0/system = one session | system-one-session | harm | POOL/kind | 60 people
/images/0/display = ['video'] | display-not-in-image | harm | POOL/display | 60 people see nothing
/sites/0/display = ['video'] | display-not-at-site | harm | POOL/display | cannot connect
POOL/hosts/throwaway = True; /images/0/gib = 51 | image-over-cache | harm | POOL/hosts/throwaway | \
    none of the 14 hosts
/disks/0/gib = 30 | image-over-disk | harm | POOL/disk | none of the 14
/places/0/offers = [{'size': 'free'}] | size-not-at-place | harm | POOL/size | none of the 14 hosts
/places/0/offers/0/zones = ['z1'] | size-not-in-zone | harm | POOL/zones/1 | about 7 of 14
/groups/0/data_areas = ['B'] | data-elsewhere | harm | POOL/place | 60 people may not work there
/places/0/lines = [] | line-not-measured | doubt | POOL/place | 60
/places/0/lines/0/round_trip_ms = 150 | slow-line | harm | POOL/place | \
    all working time of 60 people
"""),
)
def test_a_check_finds_where_why_and_a_mend(change, check, severity, pointer, matters):
    assert check not in found("/promise/zone_loss = False")
    finding = found(change)[check]
    assert (finding.severity, finding.pointer) == (severity, at(pointer))
    assert matters in finding.matters and finding.mend


@pytest.mark.parametrize(
    ("change", "check"),
    table("""
POOL/hosts = {'standing': 4, 'surge': 0} | too-few-hosts
POOL/session_limit = 9 | limit-above-density
POOL/hosts = {'standing': 10, 'surge': 0} | zone-loss
/images/0/display = ['video'] | display-not-in-image
POOL/hosts/throwaway = True; /images/0/gib = 51 | image-over-cache
"""),
)
def test_a_mend_that_is_one_value_mends(change, check):
    given = whole()
    finding = found(change, given)[check]
    put(given, finding.does.pointer, finding.does.value)
    assert check not in found("", given)


def test_the_plain_plan_has_nothing_to_find():
    left = {each.finding.check for each in findings_of(plan_of(document()))}
    assert left == {"promise-broken", "no-image", "no-place"}


def test_harm_comes_first_and_every_family_says_what_it_is_about():
    given = changed(whole(), "POOL/hosts/standing = 4; POOL/hosts/surge = 0")
    changed(given, "POOL/session_limit = 9; /places/0/lines = []")
    severities = [each.finding.severity for each in findings_of(plan_of(given))]
    assert severities == sorted(severities, reverse=True) and len(set(severities)) == 2
    assert len({family.id for family in FAMILIES}) == len(FAMILIES)
    assert all(family.about for family in FAMILIES)


def test_a_pool_of_one_day_can_be():
    given = changed(whole(), "POOL/first_date = 2027-03-05; POOL/last_date = 2027-03-05")
    assert plan_of(given).pools[0].first_date == plan_of(given).pools[0].last_date


def test_a_quota_that_is_asked_for_is_not_there_yet():
    finding = found("SIZE/quota = 50")["over-quota"]
    assert finding.does.to_grant and finding.mend.startswith("ask for a quota of")
    asked = (
        "SIZE/quota = 50; SIZE/quota_asked = "
        "{'value': %g, 'owner': 'cloud desk', 'due': '2027-02-01'}"
    )
    enough = found(asked % finding.does.value)["over-quota"]
    assert enough.severity == "harm" and enough.does is None
    assert enough.message.endswith("are requested from cloud desk by 2027-02-01")
    assert found(asked % 60)["over-quota"].does == finding.does
