"""Given spells from CSV."""

from datetime import date

import numpy as np
import pytest

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.engine.kernel.codes import (
    DISCONNECT,
    RETURN_NONE,
    RETURN_TIMEOUT,
    SIGN_OFF,
    WALK_AWAY,
)
from idle_harbor.core.errors import PlanError
from idle_harbor.formats.tables.spells import read_spells
from tests.builders import DAY, go

WEEK = horizon_for("Europe/Dublin", date(2027, 6, 7), 7, 0)
HEAD = b"person,start,end,leaving\n"


def test_local_and_utc_times():
    # Dublin is an hour ahead of UTC in June; the week starts on Monday at 00:00 there.
    given = read_spells(
        HEAD + b"ana,2027-06-07T09:00:00,2027-06-07T10:00:00,walk away\n"
        b"ben,2027-06-07T09:00:00Z,2027-06-07T12:00:00+01:00,disconnect\n",
        WEEK,
    )
    assert given.start.tolist() == [9 * 3600, 10 * 3600]
    assert given.end.tolist() == [10 * 3600, 12 * 3600]
    assert given.leaving.tolist() == [WALK_AWAY, DISCONNECT]
    assert given.people == 2


def test_lengths_are_drop_ins_each_a_person_of_its_own():
    given = read_spells(
        HEAD + b"x,2027-06-07T09:00:00,480,\nx,2027-06-07T09:01:00,90.4,sign off\n", WEEK
    )
    assert given.from_connection.tolist() == [1, 1]
    assert given.end.tolist() == [480, 90]
    assert given.people == 2
    assert given.leaving.tolist() == [SIGN_OFF] * 2


def test_overlapping_rows_of_one_person_are_joined():
    given = read_spells(
        HEAD + b"ana,2027-06-07T09:00:00,2027-06-07T11:00:00,sign off\n"
        b"ana,2027-06-07T10:00:00,2027-06-07T12:00:00,disconnect\n",
        WEEK,
    )
    assert (given.start.tolist(), given.end.tolist()) == ([9 * 3600], [12 * 3600])
    assert given.leaving.tolist() == [DISCONNECT]


def test_a_spell_has_to_end_after_its_start():
    with pytest.raises(PlanError, match="is not after the start"):
        read_spells(HEAD + b"ana,2027-06-07T09:00:00,2027-06-07T09:00:00,sign off\n", WEEK)


def test_rows_outside_the_horizon_are_left_out_and_cut():
    given = read_spells(
        HEAD + b"a,2027-06-01T09:00:00,2027-06-01T10:00:00,\n"
        b"b,2027-06-06T22:00:00,2027-06-07T06:00:00,\n"
        b"c,2027-06-14T00:00:00,2027-06-14T06:00:00,\n",
        WEEK,
    )
    assert (given.start.tolist(), given.end.tolist()) == ([0], [6 * 3600])


def test_a_rest_of_six_hours_ends_the_working_day_on_one_date_too():
    """Left at 09:00 without signing off, and signed off by the timeout at 09:20. Who is back after
    seven hours begins another day; who is back after five finds their session lost. A night shift
    is one day."""
    rows = (
        "ana,2027-06-07T08:00,2027-06-07T09:00,disconnect\nana,2027-06-07T16:00,2027-06-07T17:00,\n"
        "ben,2027-06-07T08:00,2027-06-07T09:00,disconnect\nben,2027-06-07T14:00,2027-06-07T15:00,\n"
        "eva,2027-06-07T22:00,2027-06-07T23:00,disconnect\neva,2027-06-08T01:00,2027-06-08T02:00,\n"
    )
    result = go(read_spells(HEAD + rows.encode(), WEEK), seconds=2 * DAY)
    kept = result.results["returned"][np.lexsort((result.spells.start, result.spells.person))]
    assert kept.tolist() == [RETURN_NONE, RETURN_NONE] + [RETURN_NONE, RETURN_TIMEOUT] * 2


def test_a_byte_order_mark_and_windows_lines_are_fine():
    text = "\ufeffperson,start,end,leaving\r\nana,2027-06-07T09:00,2027-06-07T10:00,\r\n"
    assert len(read_spells(text.encode(), WEEK)) == 1


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (b"who,start,end,leaving\n", "column person is missing"),
        (b"", "column person is missing"),
        (HEAD + b"a,soon,later,\n", "line 2"),
        (HEAD + b"a,2027-06-07T09:00,2027-06-07T08:00,\n", "not after the start"),
        (HEAD + b"a,2027-06-07T09:00,-5,\n", "cannot be"),
        (HEAD + b"a,2027-06-07T09:00,2027-06-07T10:00,by boat\n", "use sign off"),
        (HEAD + b"a\n", "line 2"),
        (b"person,start,end,leaving\n\xe9", "not UTF-8"),
    ],
)
def test_faults_name_the_line(text, says):
    with pytest.raises(PlanError, match=says):
        read_spells(text, WEEK)


def test_an_empty_file_is_a_quiet_week():
    assert len(read_spells(HEAD, WEEK)) == 0


def test_a_blank_person_is_a_fault_and_not_one_person_of_all_such_rows():
    row = b"2027-06-07T09:00:00,2027-06-07T10:00:00,"
    with pytest.raises(PlanError) as caught:
        read_spells(HEAD + b"," + row + b"\nana," + row + b"\n  ," + row + b"\n", WEEK)
    faults = caught.value.faults
    assert [fault.pointer for fault in faults] == ["line 2", "line 4"]
    assert "person is empty" in faults[0].message
    # A visit is a person of its own, whatever stands there.
    visits = read_spells(HEAD + b",2027-06-07T09:00:00,480,\n,2027-06-07T09:00:00,480,\n", WEEK)
    assert visits.people == 2
