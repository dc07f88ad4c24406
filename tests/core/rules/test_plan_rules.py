"""Plans that cannot be: what, where and the remedy."""

from collections.abc import Iterator

import pytest

from idle_harbor.core.errors import PlanError
from idle_harbor.core.plan.declare import WEEKDAYS, About
from idle_harbor.core.plan.table import plan_fields
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import parse_plan, plan_of, read_plan, to_values
from tests.changes import at, changed, put, table
from tests.core.plans import document

#: Ends of paths that name a weekday.
DAYS = {f".{day}" for day in WEEKDAYS}


def broken(path: str, value: object) -> dict:
    """The small plan with one place changed."""
    whole = document()
    put(whole, path, value)
    return whole


TARGETS = "WORKDAY/ready_by"


@pytest.mark.parametrize(
    ("change", "pointer", "says"),
    table("""
DAY/floor = 14 | DAY/floor | floor 14 is more than the 10 hosts
DAY/headroom = 81 | DAY/headroom | more than the 80 session slots
DAY/from = 18:00 | WORKDAY/bands/2/from | 17:00 does not come after
DAY/from = 07:32 | DAY/from | use 07:30
WORKDAY/bands/0/from = 00:05 | WORKDAY/bands/0/from | start the day's first band at 00:00
DAY/from = 25:00 | DAY/from | from 00:00 to 23:59
DAY/fill_ceiling = 0 | DAY/fill_ceiling | from 0.05 to 1
DAY/rule = round | DAY/rule | 'fill to a mark' or 'by room'
DAY/lid = 3 | DAY/lid | a lid of 3 hosts is below the 4 that are the floor
WORKDAY/ready_by = [{'at': '07:00', 'hosts': 11}] | WORKDAY/ready_by/0/hosts | \
    11 hosts ready by 07:00
WORKDAY/ready_by = [{'at': '07:00', 'clock_of': 'x'}] | WORKDAY/ready_by/0/clock_of | \
    there is no site
WORKDAY/ready_by = [{'at': '07:00'}, {'at': '07:00'}] | WORKDAY/ready_by/1/at | is used twice
DAY/drain_steps = [{'by': '18:00', 'share': 0.5}] | DAY/drain_steps/0/by | \
    18:00 is not within the band from 07:30
DAY/drain_steps = [{'by': '17:00', 'share': 0.5}] | DAY/drain_steps/0/by | \
    17:00 is not within the band from 07:30
DAY/drain_steps = [{'by': '16:00', 'share': 0.0}] | DAY/drain_steps/0/share | from 0.01 to 1
WORKDAY/ranges = [{'from': '2027-03-03', 'to': '2027-03-02'}] | WORKDAY/ranges/0/to | is before
WORKDAY/ranges = [{'from': '2027-03-01', 'to': '2027-03-05'}, \
{'from': '2027-03-05', 'to': '2027-03-06'}] | WORKDAY/ranges/1 | \
    dates from 2027-03-05 on are in 'workday' already
WORKDAY/events = ['storm'] | WORKDAY/events/0 | there is no event 'storm'
WORKDAY/holidays = True | WORKDAY/holidays | name the site
WORKDAY/month_end = 2 | WORKDAY/month_end | month end of no site
/schedules/0/site = there | /schedules/0/site | there is no site 'there'
DAY/session_limit = 9 | DAY/session_limit | more than the 8 that a host
/sites/0/time_zone = Europe/Quillmoor | /sites/0/time_zone | IANA name
POOL/time_zone = Moon/Base | POOL/time_zone | 'Moon/Base' is not
SIZE/hourly = '-1' | SIZE/hourly | from 0 to 10,000
SIZE/hourly = 0.412 | SIZE/hourly | money has to be a text
POOL/session_limit = 0 | POOL/session_limit | from 1 to 1,000 sessions
PEOPLE/people = 1000000 | PEOPLE/people | 0 to 100,000 people
PEOPLE/people = 1.5 | PEOPLE/people | people is 1.5
/groups/0/site = there | /groups/0/site | there is no site 'there'
POOL/size = huge | POOL/size | name one that exists (sloop)
POOL/disk = huge | POOL/disk | there is no disk 'huge'
POOL/schedule = huge | POOL/schedule | there is no schedule
/access/0/pool = huge | /access/0/pool | there is no pool
POOL/idle_timeout = soon | POOL/idle_timeout | idle timeout
POOL/kind = own | POOL/kind | use 'shared'
/schedules/0/day_types/1/weekdays = ['sat'] | /schedules/0/day_types | sun is in no
WORKDAY/dates = ['2027-03-03', '2027-03-04', '2027-03-03'] | WORKDAY/dates/2 | name each date once
WORKDAY/dates = ['someday'] | WORKDAY/dates/0 | someday
/currency = euro | /currency | three capital letters
/week_of = someday | /week_of | week of
/colour = red | /colour | 'colour' is not a field here
/format = 7 | /format | format 7 is not known
POOL/id = Main Pool | POOL/id | small letters
PEOPLE/patterns/0/leaving = {'sign_off': 0.5} | PEOPLE/patterns/0/leaving | add up to 0.5
PEOPLE/patterns/0/share = 0.5 | PEOPLE/patterns | add up to 0.5
"""),
)
def test_a_plan_that_cannot_be(change, pointer, says):
    with pytest.raises(PlanError) as caught:
        plan_of(changed(document(), change))
    lines = [f.line() for f in caught.value.faults]
    assert any(f.pointer == at(pointer) for f in caught.value.faults), lines
    assert any(says in line for line in lines), lines
    assert all(f.remedy for f in caught.value.faults)


def test_ids_are_unique():
    whole = document()
    whole["pools"].append(whole["pools"][0])
    with pytest.raises(PlanError, match="'main' is used twice"):
        plan_of(whole)


def test_breaks_in_order():
    pause = {"at": "12:00", "mean_minutes": 60}
    whole = broken("PEOPLE/patterns/0/breaks", [pause, {"at": "12:30"}])
    with pytest.raises(PlanError, match="begins before the one above it is over"):
        plan_of(whole)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        (b"{", "not JSON"),
        (b"[]", "a JSON object"),
        (b"\xff\xfe", "UTF-8"),
        (b'{"name": ""}', "name"),
    ],
)
def test_text_that_is_no_plan(text, says):
    with pytest.raises(PlanError, match=says):
        parse_plan(text)


def test_an_empty_plan_can_be():
    checked = plan_of({"name": "Empty", "week_of": "2027-03-01"})
    assert checked.pools == ()


def test_a_document_survives_the_way_there_and_back():
    values = to_values(read_plan(document()))
    assert to_values(read_plan(values)) == values
    assert values["schedules"][0]["day_types"][0]["bands"][0]["from"] == "00:00"
    assert values["access"][0]["as"] == "desktop"
    assert values["sizes"][0]["hourly"] == "0.412"


def numbers_of(node: object, path: str = "") -> Iterator[tuple[str, float]]:
    """Every number of a document with its path, without places in lists."""
    if isinstance(node, dict):
        for name, value in node.items():
            yield from numbers_of(value, f"{path}.{name}".lstrip("."))
    elif isinstance(node, list):
        for value in node:
            yield from numbers_of(value, path)
    elif isinstance(node, int | float) and not isinstance(node, bool):
        yield path, node


#: Numbers that are said of no field by itself, by the ends of their paths: the least and the most.
#: What is said of ways of leaving is said of the three together.
UNSAID = {
    "format": (3, 3),
    "when.from": (1, 23),
    "when.to": (1, 23),
    "leaving.sign_off": (0, 1),
    "leaving.disconnect": (0, 1),
    "leaving.walk_away": (0, 1),
}
#: Many numbers that are one value: their bounds are each one's.
LISTED = {"attendance": (0, 1), "weights": (0, 1e9)}


def bounds_of(path: str, said: dict[str, About]) -> tuple[float, float]:
    """Between which values a number of the document may be."""
    for ends in (UNSAID, LISTED):
        for end, bounds in ends.items():
            if path.endswith(end):
                return bounds
    about = said[path]
    assert about.meaning and about.low is not None and about.high is not None, path
    return about.low, about.high


def test_every_number_in_a_document_is_said_of_a_field_and_within_its_bounds():
    """Of the demo's document, whose numbers no declaration wrote."""
    said = {field.path: field.about for field in plan_fields()}
    found = [
        (path[:-4] if path[-4:] in DAYS else path, value)
        for path, value in numbers_of(to_values(plan_of(demo_plan())))
    ]
    assert len({path for path, _ in found}) > 120
    for path, value in found:
        low, high = bounds_of(path, said)
        assert low <= value <= high, (path, value)


def test_a_target_above_the_lid_of_its_band():
    whole = broken(TARGETS, [{"at": "12:00", "hosts": 7}, {"at": "18:00", "hosts": 7}])
    whole["schedules"][0]["day_types"][0]["bands"][1]["lid"] = 6
    with pytest.raises(PlanError) as caught:
        plan_of(whole)
    assert [fault.pointer for fault in caught.value.faults] == [at(f"{TARGETS}/0/hosts")]
    assert "more than the lid of 6 in the band from 07:30" in caught.value.faults[0].line()


def test_holidays_and_events_are_of_one_kind_of_day():
    whole = broken("/schedules/0/site", "here")
    whole["events"] = [{"id": "storm", "when": {"kind": "month-workdays", "from": 1, "to": 2}}]
    for kind in whole["schedules"][0]["day_types"]:
        kind |= {"holidays": True, "events": ["storm"]}
    with pytest.raises(PlanError) as caught:
        plan_of(whole)
    base = "/schedules/0/day_types/1"
    assert {f.pointer for f in caught.value.faults} == {f"{base}/events/0", f"{base}/holidays"}
    assert all("'workday' rules" in fault.line() for fault in caught.value.faults)
