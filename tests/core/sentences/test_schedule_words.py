"""A schedule in words: every rule that differs from saying nothing is said, with its value."""

from dataclasses import fields, replace

import pytest

from idle_harbor.core.plan.load_rules import SIGNALS, LoadRule
from idle_harbor.core.plan.schedules import Band, DrainStep, Notice, ReadyBy, Timeouts
from idle_harbor.core.sentences.schedule import (
    Token,
    band_said,
    load_rule_said,
    schedule_lines,
    target_said,
)
from idle_harbor.core.sentences.table import schedule_table
from tests.builders import band, pool, schedule

HOUR = 3_600
POOL = pool(standing=20, surge=4, session_limit=8)
#: A value of each field that is not its default, and what a sentence then says.
OTHER = {
    "floor": (7, "at least 7 of 24 hosts"),
    "floor_share": (0.25, "or 25 % of the standing ones where that is more"),
    "fill_ceiling": (0.55, "55 % full"),
    "headroom": (9, "fewer than 9 slots"),
    "headroom_share": (0.125, "or 12.5 % of the sessions where that is more"),
    "lid": (22, "At most 22 hosts are on."),
    "session_limit": (5, "A host takes 5 sessions."),
    "knock": (True, "Who finds no room has a host started at once."),
    "rule": ("by room", "send people where most CPU and memory are free"),
    "mark": (0.6, "fill each to a mark of 60 %"),
    "release": ("drain", "drain the least used"),
    "margin": (3, "from 3 over"),
    "least_run_minutes": (45, "each after 45 minutes at least"),
    "draining_most": (2, "2 at once at most"),
    "timeouts": (
        Timeouts(900, None),
        "disconnected after 15 minutes, and signed off after another never",
    ),
    "drain_steps": (
        (DrainStep(18 * HOUR, 0.25), DrainStep(20 * HOUR, 0.5)),
        "By 18:00 25 % of the hosts take nobody new, by 20:00 50 %.",
    ),
    "notice": (
        Notice(20, "idle too", "Off you go."),
        "people read “Off you go.”, and after 20 minutes who is disconnected or idle is signed",
    ),
    "load_rules": (("busy", "late"), "Load rules at work: busy, late."),
    "draining_share": (0.3, "at most 30 % of those on at once"),
}
#: What a band has to say besides for a field to be in force.
NEEDS = {"mark": {"rule": "fill to a mark"}, "notice": {"release": "drain with notice"}}
TARGET = {
    "hosts": (12, "12 hosts"),
    "share": (0.5, "or 50 % of the standing ones where that is more"),
    "at": (6 * HOUR, "ready by 06:00"),
    "until": (9 * HOUR, "until 09:00"),
    "clock_of": ("harbour", "on the clock of harbour"),
}


def tokens(said):
    return [part for part in said.parts if isinstance(part, Token)]


def names(kind):
    # Exceptions are told at what they are of (test_exceptions).
    return {field.name for field in fields(kind)} - {"start", "exceptions"}


@pytest.mark.parametrize("field", OTHER)
def test_every_rule_of_a_band_is_said(field):
    value, says = OTHER[field]
    plain = Band(0, **NEEDS.get(field, {}))
    said = band_said(other := replace(plain, **{field: value}), POOL)
    assert says in said.told(other)
    assert says not in band_said(plain, POOL).told(plain)
    assert field in [token.field.split(".")[0] for token in tokens(said)]


@pytest.mark.parametrize("field", TARGET)
def test_every_rule_of_a_target_is_said(field):
    value, says = TARGET[field]
    plain = ReadyBy(8 * HOUR, 3)
    other = replace(plain, **{field: value})
    assert says in target_said(other, POOL).told(other)
    assert says not in target_said(plain, POOL).told(plain)


#: A value of each field of a load rule, and what its sentence then says.
LOAD_RULE = {
    "signal": ("people waiting", "Once the number of people waiting has been above 0.8 for"),
    "asks_at": (0.65, "above 65 % for"),
    "asks_hold_minutes": (12, "for 12 minutes, 1 hosts more"),
    "adds": (3, "3 hosts more are asked for"),
    "permits_at": (0.25, "below 25 % for"),
    "permits_hold_minutes": (35, "for 35 minutes, 1 fewer"),
    "takes_back": (4, "4 fewer."),
    "pause_minutes": (25, "at most every 25 minutes"),
}


@pytest.mark.parametrize("field", LOAD_RULE)
def test_every_field_of_a_load_rule_is_said(field):
    value, says = LOAD_RULE[field]
    plain = LoadRule("busy", "cpu", asks_at=0.8, permits_at=0.4)
    other = replace(plain, **{field: value})
    assert says in load_rule_said(other).told(other)
    assert says not in load_rule_said(plain).told(plain)
    assert field in [token.field for token in tokens(load_rule_said(other))]


def test_a_load_rule_says_which_side_asks_and_which_lets_hosts_go():
    few = LoadRule("few", "free slots", asks_at=10, permits_at=30)
    assert "the number of free slots has been below 10 for" in load_rule_said(few).told(few)
    assert "above 30 for" in load_rule_said(few).told(few)
    keeps = LoadRule("keeps", "logon time", permits_at=40)
    told = load_rule_said(keeps).told(keeps)
    assert told == "No host is let go until the mean logon time has been below 40 s for 20 minutes."
    until = LoadRule("until", "cpu", asks_at=0.7)
    assert load_rule_said(until).told(until).endswith(", until the band ends.")


@pytest.mark.parametrize("signal", SIGNALS)
@pytest.mark.parametrize("marks", [{"asks_at": 0.8}, {"permits_at": 0.4}])
def test_a_mark_of_the_other_side_is_offered_on_that_side(signal, marks):
    rule = LoadRule("r", signal, **marks)
    (offer,) = load_rule_said(rule).offers
    both = replace(rule, **offer.values)
    asks_above = both.asks_at > both.permits_at
    assert asks_above is not rule.asks_where_low
    (left,) = (
        t.without
        for t in tokens(load_rule_said(both))
        if t.without == {next(iter(offer.values)): None}
    )
    assert replace(both, **left) == rule


def test_load_rules_are_offered_to_bands_that_do_not_name_them():
    rules = (LoadRule("busy", "cpu", 0.8), LoadRule("late", "logon time", 60))
    offers = {
        o.text: o.values for o in band_said(Band(0, load_rules=("late",)), POOL, rules).offers
    }
    assert offers["load rule Busy"] == {"load_rules": ["late", "busy"]}
    assert "load rule late" not in offers
    (token,) = (
        t for t in tokens(band_said(Band(0, load_rules=("late",)), POOL, rules)) if t.kind == "name"
    )
    assert token.without == {"load_rules": []}
    own = pool(standing=3, kind="dedicated", session_limit=1)
    assert not [o for o in band_said(Band(0), own, rules).offers if "load rule" in o.text]


def test_no_field_is_left_out():
    assert LOAD_RULE.keys() == names(LoadRule) - {"id", "name"}
    assert OTHER.keys() == names(Band)
    assert TARGET.keys() == names(ReadyBy)


def test_what_is_left_out_is_offered_and_what_is_added_can_be_left_out_again():
    plain = Band(0, floor=5, release="drain")
    offers = band_said(plain, POOL).offers
    assert len(offers) >= 8
    for offer in offers:
        (field,) = offer.values
        values = offer.values
        if field == "timeouts":
            values = {field: Timeouts(600, 1_200)}
            assert offer.values == {field: {"idle": 600, "disconnected": 1_200}}
        if field == "drain_steps":
            assert offer.values == {field: [{"by": "00:00", "share": 0.25}]}
            values = {field: (DrainStep(0, 0.25),)}
        more = replace(plain, **values)
        (token,) = (
            each for each in tokens(band_said(more, POOL)) if each.without and field in each.without
        )
        without = {name: () if value == [] else value for name, value in token.without.items()}
        assert replace(more, **without) == plain
        assert offer not in band_said(more, POOL).offers
    target = ReadyBy(8 * HOUR, 3)
    assert [offer.values for offer in target_said(target, POOL).offers] == [
        {"share": 1.0},
        {"until": "09:00"},
    ]


def test_an_offer_begins_with_what_changes_as_little_as_can_be():
    given = {o.text: o.values for o in band_said(Band(0, floor=5, release="drain"), POOL).offers}
    assert given["a share as floor"] == {"floor_share": 0.25}
    assert given["a lid"] == {"lid": 24}
    assert given["a session limit of its own"] == {"session_limit": 8}
    dedicated = pool(standing=3, kind="dedicated", session_limit=1)
    texts = [offer.text for offer in band_said(Band(0), dedicated).offers]
    assert "a start on a knock" not in texts and "a session limit of its own" not in texts


def test_all_bands_side_by_side():
    rules = schedule(band(floor=1), band(start=8 * HOUR, floor=6, lid=9))
    columns, rows = schedule_table(rules, POOL)
    assert [(each.name, each.begins) for each in columns] == [
        ("Every day", "00:00"),
        ("Every day", "08:00"),
    ]
    told = {row.label: row.cells for row in rows}
    assert told["Floor"] == ("1", "6") and told["Lid"] == ("", "9")
    assert told["Balancing rule"] == ("spread people over them",) * 2
    assert "Least run" not in told


def test_a_schedule_line_by_line():
    rules = schedule(band(floor=1), band(start=8 * HOUR, floor=6, lid=9))
    (first, *lines, last) = schedule_lines(rules, POOL)
    assert first.startswith("Every day (Monday, Tuesday,")
    assert lines[0].startswith("  00:00 to 08:00: keep at least 1 of 24 hosts ready;")
    assert lines[1].startswith("  08:00 to 24:00: keep at least 6") and "At most 9" in lines[1]
    assert last == "The policy looks every 300 seconds."
