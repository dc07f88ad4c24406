"""Every reader with files that are nearly right: it says what is wrong, and never anything else.

Files are made from right ones by cutting, doubling and putting in what readers stumble over. What
hangs fails by the deadline, which is far beyond what any of these files takes.
"""

import io
import json
from datetime import date, timedelta
from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from idle_harbor.core.calendar.clock import horizon_for
from idle_harbor.core.errors import PlanError
from idle_harbor.demo.directory import demo_directory
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.calendar.days import calendar_days
from idle_harbor.formats.directory.csv_people import read_csv
from idle_harbor.formats.directory.ldif_people import read_ldif
from idle_harbor.formats.directory.records import (
    GroupRow,
    MemberRow,
    NotReadable,
    PersonRow,
    WrongRow,
)
from idle_harbor.formats.directory.scim_people import read_scim
from idle_harbor.formats.plan.codec import checked, parse_plan, read_plan, to_values
from idle_harbor.formats.tables.assigned import assigned_from, read_list
from idle_harbor.formats.tables.price_sheet import read_sheet, sheet_csv, sheet_json, sheet_of
from idle_harbor.formats.tables.samples import read_samples
from idle_harbor.formats.tables.spells import read_spells
from tests.sizes import size

WEEK = horizon_for("Europe/Dublin", date(2027, 6, 7), 7, 0)
PLAN = to_values(read_plan(demo_plan()))
FILES = Path(__file__).with_name("samples")
CALENDAR, LDIF, SCIM = (
    (FILES / name).read_bytes().decode()
    for name in ("calendar.ics", "people.ldif", "people.scim.json")
)
SCIM_LINES = "\n".join(json.dumps(each) for each in json.loads(SCIM)["Resources"])
SAMPLES = "session,time,cpu_vcpu,memory_gib,state\na,1,0.5,1.5,active\na,2,0.1,1.4,idle\n"
SPELLS = (
    "person,start,end,leaving\nann,2027-06-07T09:00:00,2027-06-07T17:00:00Z,walk away\n"
    "bob,2027-06-07T09:00:00+02:00,480,\n"
)
LIST = "group,person,host\noffice,1,1\noffice,ann,2\n"
PEOPLE = 'key,name,mail,groups\np1,"Moor, Ann",ann@x,"a; b"\np2,Zoë,,\n'
PLAN_TEXT = json.dumps(PLAN)[:6_000] + json.dumps(PLAN)[6_000:]

#: Pieces without a space or a line end in them, a line for each kind.
WORDS = """
² ٣ - 1e999 NaN Infinity null true [ ] { } " ' "" \\ud800 \\u0000 , ; : @ #
0001-01-01 9999-12-31 9999-12-31T23:59:59-23:59 0000-00-00 00010101 99991231
FREQ=SECONDLY FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30 INTERVAL=0 INTERVAL=-1 COUNT=999999999 BYSETPOS=0
DTSTART: VALUE=TIME:101010 DTSTART;TZID=Nowhere/None:20270101T000000 P9999999D
schemas members "members":[{"value":7}] "schemas":null dn:
"""
OTHERS = [
    *("9" * 5_000, "[" * 300, '{"a":' * 300, "x" * 500),
    *("\x00", "\ufeff", "\udcff", "\n", "\r", "\r\n", "\n ", "\n\n", " ", "\t"),
    *("=cmd|'/c x'!A1", "RRULE:FREQ=YEARLY\r\n", "BEGIN:VEVENT\r\n"),
    *("dn:: %%%", "member:: ÿÿ", "changetype: add", "uid:< file:///etc/passwd"),
]
PIECES = st.sampled_from([*WORDS.split(), *OTHERS])


@st.composite
def spoilt(draw, whole: str) -> str:
    """The text after one to five cuts, doublings and insertions."""
    text = whole
    for _ in range(draw(st.integers(1, 5))):
        at = draw(st.integers(0, len(text)))
        to = min(at + draw(st.integers(0, 30)), len(text))
        how = draw(st.sampled_from(["put", "cut", "twice", "end"]))
        if how == "put":
            text = text[:at] + draw(PIECES) + text[to:]
        elif how == "cut":
            text = text[:at] + text[to:]
        elif how == "twice":
            text = text[:to] + text[at:]
        else:
            text = text[:at]
    return text


def as_bytes(text: str) -> bytes:
    return text.encode("utf-8", "surrogateescape" if "\udcff" in text else "strict")


def of_directory(reader):
    def read(text: str) -> None:
        kinds = (PersonRow, GroupRow, MemberRow, WrongRow)
        for row in reader(io.BytesIO(as_bytes(text))):
            assert isinstance(row, kinds)
            # Whatever is read can be written to the database.
            for value in (getattr(row, name) for name in row.__slots__):
                if isinstance(value, str):
                    value.encode()
                    assert "\x00" not in value or isinstance(row, WrongRow)

    return read


READERS = {
    "calendar": (CALENDAR, lambda t: calendar_days(t, date(2027, 1, 1), date(2027, 12, 31))),
    "ldif": (LDIF, of_directory(read_ldif)),
    "scim": (SCIM, of_directory(read_scim)),
    "scim lines": (SCIM_LINES, of_directory(read_scim)),
    "people csv": (PEOPLE, of_directory(read_csv)),
    "samples": (SAMPLES, read_samples),
    "spells": (SPELLS, lambda t: read_spells(as_bytes(t), WEEK)),
    "list": (LIST, lambda t: assigned_from(read_list(t), {"office": {"ann": 3}})),
    "sheet csv": (sheet_csv(sheet_of(read_plan(PLAN))), read_sheet),
    "sheet json": (sheet_json(sheet_of(read_plan(PLAN))), read_sheet),
    "plan": (PLAN_TEXT, lambda t: checked(parse_plan(as_bytes(t)))),
}
SLOW = ("plan", "sheet json")
#: Some four thousand cases in all; a plan takes longer to read than the others.
CASES = dict.fromkeys(READERS, size(400, 4_000)) | dict.fromkeys(SLOW, size(120, 1_200))


@pytest.mark.parametrize("name", READERS)
def test_a_file_that_is_nearly_right_is_read_or_refused(name):
    whole, read = READERS[name]
    read(whole)
    refused = 0

    @settings(
        max_examples=CASES[name],
        deadline=timedelta(seconds=2),
        derandomize=True,
        suppress_health_check=list(HealthCheck),
    )
    @given(spoilt(whole))
    def check(text):
        nonlocal refused
        try:
            read(text)
        except (PlanError, NotReadable):
            refused += 1

    check()
    assert refused > 0


def test_directories_of_the_demo_are_read_without_a_fault():
    found = list(read_scim(io.BytesIO(demo_directory().as_scim(3))))
    assert not [row for row in found if isinstance(row, WrongRow)]
    assert len([row for row in found if isinstance(row, MemberRow)]) > 1_000
