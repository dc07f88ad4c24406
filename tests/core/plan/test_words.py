"""A schedule in words: every rule that differs from saying nothing is said, with its value."""

from __future__ import annotations

from dataclasses import fields, replace

import pytest

from idle_harbor.core.plan.schedules import Band, DrainStep, ReadyBy, Timeouts
from idle_harbor.core.plan.words import Token, band_said, schedule_lines, target_said
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
    "draining_share": (0.3, "at most 30 % of those on at once"),
}
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
    return {field.name for field in fields(kind)} - {"start"}


@pytest.mark.parametrize("field", OTHER)
def test_every_rule_of_a_band_is_said(field):
    value, says = OTHER[field]
    plain = Band(0, rule="fill to a mark" if field == "mark" else "spread")
    said = band_said(other := replace(plain, **{field: value}), POOL)
    assert says in said.told(other)
    assert says not in band_said(plain, POOL).told(plain)
    assert field in [token.field.split(".")[0] for token in tokens(said)]


@pytest.mark.parametrize("field", TARGET)
def test_every_rule_of_a_target_is_said(field):
    value, says = TARGET[field]
    plain = ReadyBy(8 * HOUR, 3)
    other = replace(plain, **{field: value})
    assert says in target_said(other).told(other)
    assert says not in target_said(plain).told(plain)


def test_no_field_is_left_out():
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
        (token,) = (each for each in tokens(band_said(more, POOL))
                    if each.without and field in each.without)  # fmt: skip
        without = {name: () if value == [] else value for name, value in token.without.items()}
        assert replace(more, **without) == plain
        assert offer not in band_said(more, POOL).offers
    target = ReadyBy(8 * HOUR, 3)
    assert [offer.values for offer in target_said(target).offers] == [
        {"share": 1.0}, {"until": "09:00"},
    ]  # fmt: skip


def test_an_offer_begins_with_what_changes_as_little_as_can_be():
    given = {o.text: o.values for o in band_said(Band(0, floor=5, release="drain"), POOL).offers}
    assert given["a share as floor"] == {"floor_share": 0.25}
    assert given["a lid"] == {"lid": 24}
    assert given["a session limit of its own"] == {"session_limit": 8}
    dedicated = pool(standing=3, kind="dedicated", session_limit=1)
    texts = [offer.text for offer in band_said(Band(0), dedicated).offers]
    assert "a start on a knock" not in texts and "a session limit of its own" not in texts


def test_a_schedule_line_by_line():
    rules = schedule(band(floor=1), band(start=8 * HOUR, floor=6, lid=9))
    (first, *lines, last) = schedule_lines(rules, POOL)
    assert first.startswith("every-day (Monday, Tuesday,")
    assert lines[0].startswith("  00:00 to 08:00: keep at least 1 of 24 hosts ready;")
    assert lines[1].startswith("  08:00 to 24:00: keep at least 6") and "At most 9" in lines[1]
    assert last == "The policy looks every 300 seconds."
