"""A new plan lists its assumed values; a month names its parts without a price."""

from dataclasses import replace
from decimal import Decimal

import pytest

from idle_harbor.core.plan import Disk, Licence, Prices
from idle_harbor.core.plan.assumed import ASSUMPTIONS
from idle_harbor.core.plan.edits import changed
from idle_harbor.core.plan.edits.beginning import BeginPlan, Confirm
from idle_harbor.core.plan.patterns import Leaving
from idle_harbor.core.sentences.assumed import assumed_values, unpriced_parts
from idle_harbor.formats.plan.codec import read_plan, to_values
from tests.core.plans import plan


@pytest.fixture
def begun():
    empty = read_plan({"name": "New", "week_of": "2027-03-01"})
    first = BeginPlan("begin-plan", 600, "Europe/Dublin", 31_500, 8.25, 8, 32, Decimal("0.4"), 40)
    return changed(empty, first)


def ids(of):
    return [each.id for each in assumed_values(of)]


def test_a_new_plan_assumes_what_nobody_has_said(begun):
    told = assumed_values(begun)
    assert [each.id for each in told] == list(ASSUMPTIONS)
    texts = {each.id: each.text for each in told}
    assert texts["attendance"].startswith("90 % of the people work")
    assert "60 % sign off, 30 % disconnect and 10 % walk away" in texts["leaving"]
    assert texts["start"] == "a host takes 4 minutes to start, and no start fails"
    assert "after 120 minutes" in texts["timeouts"] and "after 60" in texts["timeouts"]
    # A plan keeps what it assumes; one that came from elsewhere assumes nothing.
    assert read_plan(to_values(begun)).assumed == ASSUMPTIONS
    assert assumed_values(plan()) == []


def test_what_is_confirmed_is_not_assumed_any_more(begun):
    confirmed = changed(begun, Confirm("confirm", "disk"))
    assert "disk" not in ids(confirmed) and len(ids(confirmed)) == len(ASSUMPTIONS) - 1
    assert changed(confirmed, Confirm("confirm", "disk")) == confirmed


def test_what_was_changed_is_not_assumed_any_more(begun):
    pool, group = begun.pools[0], begun.groups[0]
    pattern = replace(group.demand.patterns[0], leaving=Leaving(1.0))
    leaves = replace(group, demand=replace(group.demand, patterns=(pattern,)))
    first = begun.schedules[0].day_types[0]
    busy = replace(first, bands=(replace(first.bands[0], floor=2), *first.bands[1:]))
    profile = begun.profiles[0]
    changes = {
        "leaving": {"groups": (leaves,)},
        "workload": {"profiles": (replace(profile, cpu=replace(profile.cpu, mean=1.0)),)},
        "schedule": {"schedules": (replace(begun.schedules[0], day_types=(busy,)),)},
        "start": {"pools": (replace(pool, start=replace(pool.start, mean_seconds=60.0)),)},
        "timeouts": {"pools": (replace(pool, idle_timeout=None),)},
        "disk": {"pools": (replace(pool, disk="deck"),)},
        "image": {"pools": (replace(pool, image="golden"),)},
        "place": {"pools": (replace(pool, place="quay"),)},
        "licences": {"prices": Prices(licences=(Licence("seat", Decimal(4)),))},
        "prices": {"prices": Prices(egress_gib=Decimal("0.05"))},
    }
    for what, change in changes.items():
        assert set(ASSUMPTIONS) - set(ids(replace(begun, **change))) == {what}


def test_a_month_says_what_it_leaves_out(begun):
    pool = begun.pools[0]
    assert unpriced_parts(begun, pool) == ["disks", "licences"]
    disk = Disk("deck", Decimal(9), Decimal(4))
    mine = replace(pool, disk="deck")
    assert unpriced_parts(replace(begun, disks=(disk,)), mine) == ["licences"]
    free = replace(begun, disks=(replace(disk, monthly_on=Decimal(0)),))
    assert unpriced_parts(free, mine) == ["disks", "licences"]
    assert unpriced_parts(begun, replace(pool, hosts=replace(pool.hosts, throwaway=True))) == [
        "licences"
    ]
    elsewhere = Prices(licences=(Licence("seat", Decimal(4), pools=("other",)),))
    assert "licences" in unpriced_parts(replace(begun, prices=elsewhere), pool)
    for_all = Prices(licences=(Licence("seat", Decimal(4)),))
    assert unpriced_parts(replace(begun, prices=for_all), pool) == ["disks"]
    size = replace(begun.sizes[0], hourly=Decimal(0))
    assert unpriced_parts(replace(begun, sizes=(size,)), pool)[0] == "compute"
