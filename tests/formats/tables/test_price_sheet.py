"""Price sheets go out and come back as they were; bad ones say where."""

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from idle_harbor.core.errors import PlanError
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import edited, plan_of, to_values
from idle_harbor.formats.tables.price_sheet import (
    read_sheet,
    sheet_csv,
    sheet_from,
    sheet_json,
    sheet_of,
    with_sheet,
)
from idle_harbor.standins.price_feed import SimulatedPriceFeed
from tests.sizes import size


@pytest.fixture(scope="module")
def demo():
    return plan_of(demo_plan())


def test_the_demos_sheet_goes_round_in_both_forms(demo):
    sheet = sheet_of(demo)
    assert read_sheet(sheet_json(sheet)) == sheet
    assert read_sheet(sheet_csv(sheet)) == sheet
    assert with_sheet(demo, sheet) == demo


money = st.decimals(0, 9_999, places=4).map(lambda value: format(value, "f"))
number = st.floats(1, 500, allow_nan=False).map(lambda value: round(value, 3))
ids = st.from_regex(r"[a-z0-9][a-z0-9-]{0,8}", fullmatch=True)
GIB = ("gib_per_vcpu_low", "gib_per_vcpu_high")

free = {"vcpu_low": number, "vcpu_high": number, **dict.fromkeys(GIB, st.floats(0.1, 9))} | {
    "per_vcpu": st.just("0.01")
}
term = st.fixed_dictionaries({"years": st.integers(1, 10), "hourly": money})
some_sizes = st.fixed_dictionaries(
    {"id": ids, "vcpu": number, "memory_gib": number, "hourly": money},
    optional={
        "gpu_gib": number,
        "disk_ops": st.one_of(st.none(), number),
        "quota": number,
        "burst": st.fixed_dictionaries({"baseline": st.floats(0.01, 1)}),
        "machine": st.fixed_dictionaries({"hosts": st.integers(1, 99), "hourly": money}),
        "free": st.fixed_dictionaries(free),
        "committed": st.lists(term, max_size=3, unique_by=lambda term: term["years"]),
        "source": st.sampled_from(["typed", 'a "quoted", source', "über"]),
    },
)


@settings(max_examples=size(100, 1000))
@given(st.lists(some_sizes, max_size=4), st.booleans())
def test_any_sheet_goes_round(drawn, other):
    offer = {"place": "here", "zones": ["a", "b c"], "hourly": None}
    offers = [offer | {"size": each["id"]} for each in drawn]
    disks = [{"id": "d", "monthly_on": "1.10", "monthly_off": "0"}]
    licence = {"id": "l", "monthly": "2", "per": "peak session", "pools": ["p", "q"]}
    prices = {"egress_gib": "0.05", "licences": [licence]} if other else None
    given = {"currency": "EUR", "sizes": drawn, "offers": offers, "disks": disks}
    sheet = sheet_from(given | {"prices": prices})
    assert read_sheet(sheet_json(sheet)) == sheet
    assert read_sheet(sheet_csv(sheet)) == sheet


def test_terms_come_back_whatever_their_order():
    def size(name, *years):
        terms = [{"years": y, "hourly": f"0.{y}"} for y in years]
        return {"id": name, "vcpu": 1, "memory_gib": 1, "hourly": "1", "committed": terms}

    sheet = sheet_from({"currency": "EUR", "sizes": [size("a", 1, 3), size("b", 3, 2, 1)]})
    assert [t.years for t in sheet.sizes[1].committed] == [1, 2, 3]
    assert read_sheet(sheet_csv(sheet)) == sheet


def test_what_the_sheet_lacks_stays_and_what_it_has_is_renewed(demo):
    sheet = read_sheet(
        "item,id,currency,vcpu,memory_gib,hourly\r\n"
        "sheet,,EUR,,,\r\nsize,sloop,,8,32,0.500\r\nsize,new-2,,2,4,0.1\r\n"
    )
    got = with_sheet(demo, sheet)
    prices = {size.id: str(size.hourly) for size in got.sizes}
    assert prices["sloop"] == "0.500" and prices["new-2"] == "0.1"
    assert prices["skiff"] == "0.208" and got.disks == demo.disks
    assert got.prices == demo.prices and got.places == demo.places
    assert plan_of(to_values(got)).sizes[0].hourly == Decimal("0.500")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "line 1: the column item is missing"),
        ("item,id\r\nsized,a\r\n", "line 2: item is 'sized'"),
        ("item,id,vcpu\r\nsheet,,\r\nsize,a,many\r\n", "line 3: vcpu is"),
        ("item,id\r\nsize,a\r\n", "line 2: vcpu is missing"),
        ("item,id,wings\r\ndisk,a,2\r\n", "line 2: 'wings' is not a field here"),
        ("item,id,vcpu,memory_gib,hourly\r\nsize,a,2,4,-1\r\n", "line 2: hourly is"),
        ("item,id,committed.x\r\nsize,a,1\r\n", "line 2: "),
        # A column that is the list itself, in front of one of its terms and behind it.
        ("item,id,committed,committed.1\r\nsize,a,x,1\r\n", "line 2: committed is"),
        ("item,id,committed.1,committed\r\nsize,a,1,x\r\n", "line 2: committed is"),
        ('{"currency": "EUR", ', "at line 1"),
        ('{"sizes": []}', "currency is missing"),
        ("[" * 5_000, "line 1: the column item is missing"),
        ('{"a":' * 100_000, "this is not JSON"),
        ("item\r\n" + "disk\r\n" * 6_000, "at most 5,000 rows"),
    ],
)
def test_a_sheet_that_cannot_be_says_where(text, says):
    with pytest.raises(PlanError) as caught:
        read_sheet(text)
    assert any(says in fault.line() for fault in caught.value.faults), str(caught.value)


def test_another_currency_and_a_strange_place_are_refused(demo):
    for values, says in (
        ({"currency": "USD"}, "the sheet is in USD"),
        ({"currency": "EUR", "offers": [{"place": "moon", "size": "sloop"}]}, "no place 'moon'"),
    ):
        with pytest.raises(PlanError, match=says):
            with_sheet(demo, sheet_from(values))


class TestFeed:
    def test_the_same_day_gives_the_same_prices(self, demo):
        feed = SimulatedPriceFeed(sheet_of(demo))
        assert feed.sheet_on(date(2027, 6, 3)) == feed.sheet_on(date(2027, 6, 30))
        assert feed.sheet_on(date(2027, 6, 3)) != feed.sheet_on(date(2027, 7, 3))

    def test_prices_drift_by_little_each_on_its_own(self, demo):
        begin = sheet_of(demo)
        later = SimulatedPriceFeed(begin).sheet_on(date(2027, 3, 1))
        ratios = {
            new.id: float(new.hourly / old.hourly)
            for old, new in zip(begin.sizes, later.sizes, strict=True)
            if old.hourly
        }
        assert all(0.985**2 - 1e-3 <= ratio <= 1.015**2 + 1e-3 for ratio in ratios.values())
        assert len(set(ratios.values())) > 3
        assert {size.source for size in later.sizes} == {"simulated price feed, 2027-03"}

    def test_before_its_first_month_it_is_as_it_began(self, demo):
        begin = sheet_of(demo)
        first = SimulatedPriceFeed(begin).sheet_on(date(2020, 1, 1))
        assert [s.hourly for s in first.sizes] == [s.hourly for s in begin.sizes]

    def test_its_sheet_fits_the_plan(self, demo):
        later = SimulatedPriceFeed(sheet_of(demo)).sheet_on(date(2028, 2, 1))
        assert edited(with_sheet(demo, later))
