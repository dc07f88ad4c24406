"""Differences and merges of two saves, things matched by id."""

import pytest

from idle_harbor.formats.plan.merge import MISSING, changes, merge

BASE = {
    "name": "P",
    "pools": [{"id": "a", "limit": 10, "wait": 5}, {"id": "b", "limit": 4}],
    "bands": [{"from": "00:00", "floor": 1}, {"from": "08:00", "floor": 5}],
    "weekdays": ["mon", "tue"],
}


def edited(**parts):
    return {**BASE, **parts}


def test_no_difference():
    assert list(changes(BASE, BASE, BASE)) == []
    assert merge(BASE, BASE, BASE, "yours") == BASE


def test_changes_in_different_places_join():
    yours = edited(pools=[{"id": "a", "limit": 12, "wait": 5}, {"id": "b", "limit": 4}])
    theirs = edited(pools=[{"id": "b", "limit": 6}, {"id": "a", "limit": 10, "wait": 9}])
    found = {c.path: c.by for c in changes(BASE, yours, theirs)}
    assert found == {
        "/pools/a/limit": "yours",
        "/pools/a/wait": "theirs",
        "/pools/b/limit": "theirs",
    }
    merged = merge(BASE, yours, theirs, "theirs")
    assert {p["id"]: p for p in merged["pools"]} == {
        "a": {"id": "a", "limit": 12, "wait": 9},
        "b": {"id": "b", "limit": 6},
    }


@pytest.mark.parametrize(("prefer", "name"), [("yours", "Y"), ("theirs", "T")])
def test_where_both_changed_one_place_somebody_decides(prefer, name):
    found = list(changes(BASE, edited(name="Y"), edited(name="T")))
    assert [(c.path, c.base, c.yours, c.theirs, c.by) for c in found] == [
        ("/name", "P", "Y", "T", "both")
    ]
    assert merge(BASE, edited(name="Y"), edited(name="T"), prefer)["name"] == name


def test_things_added_and_removed():
    yours = edited(pools=[BASE["pools"][0]])  # b removed
    theirs = edited(pools=[*BASE["pools"], {"id": "c", "limit": 1}])
    merged = merge(BASE, yours, theirs, "yours")
    assert [p["id"] for p in merged["pools"]] == ["a", "c"]
    found = {c.path: (c.by, c.yours) for c in changes(BASE, yours, theirs)}
    assert found["/pools/b"] == ("yours", MISSING)
    assert found["/pools/c"][0] == "theirs"


def test_bands_are_matched_by_their_start_and_stay_in_order():
    yours = edited(bands=[*BASE["bands"], {"from": "17:00", "floor": 2}])
    theirs = edited(bands=[BASE["bands"][0], {"from": "06:00", "floor": 3}, BASE["bands"][1]])
    merged = merge(BASE, yours, theirs, "yours")
    assert [b["from"] for b in merged["bands"]] == ["00:00", "06:00", "08:00", "17:00"]


def test_texts_are_a_set():
    yours, theirs = edited(weekdays=["mon"]), edited(weekdays=["mon", "tue", "sat"])
    found = [(c.path, c.by) for c in changes(BASE, yours, theirs)]
    assert found == [("/weekdays/tue", "yours"), ("/weekdays/sat", "theirs")]
    assert merge(BASE, yours, theirs, "yours")["weekdays"] == ["mon", "sat"]


def test_numbers_are_known_by_their_place():
    base = {"rates": [0.0] * 24}
    yours, theirs = [0.0] * 24, [0.0] * 24
    yours[8], theirs[9] = 5.0, 7.0
    merged = merge(base, {"rates": yours}, {"rates": theirs}, "yours")
    assert merged["rates"][7:11] == [0.0, 5.0, 7.0, 0.0]
    longer = {"rates": [1.0] * 25}
    assert merge(base, longer, {"rates": theirs}, "yours") == longer


def test_an_order_is_one_value():
    """In a rotation the same shift may stand twice."""
    base = {"order": ["day", None, "day"]}
    found = list(changes(base, {"order": ["day"]}, {"order": ["late"]}))
    assert [(c.path, c.by) for c in found] == [("/order", "both")]


def test_removed_here_and_changed_there_is_a_conflict():
    yours = edited(pools=[BASE["pools"][0]])
    theirs = edited(pools=[BASE["pools"][0], {"id": "b", "limit": 9}])
    assert [(c.path, c.by) for c in changes(BASE, yours, theirs)] == [("/pools/b", "both")]
    assert len(merge(BASE, yours, theirs, "yours")["pools"]) == 1
    assert len(merge(BASE, yours, theirs, "theirs")["pools"]) == 2
