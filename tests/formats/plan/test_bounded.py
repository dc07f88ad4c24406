"""Documents that are wrong in very many places: what is wrong is bounded while it is looked for."""

import json

import pytest

from idle_harbor.core.errors import PlanError, TooMuchError
from idle_harbor.formats import bounds
from idle_harbor.formats.bounds import MOST_CONTAINERS, MOST_FIELDS, MOST_VALUES, read_json
from idle_harbor.formats.plan import bounded
from idle_harbor.formats.plan.bounded import MOST_FAULTS
from idle_harbor.formats.plan.codec import parse_plan, read_plan
from tests.core.plans import document


@pytest.mark.parametrize(
    ("field", "entries", "pointer"),
    [
        ("groups", [0] * 100_000, "/groups/0"),
        ("access", [{"group": "people", "pool": "main"}] * 100_000, "/access"),
        ("groups", [0] * 400, "/groups/0"),
        ("groups", [{}] * 400, "/groups/0/id"),
        ("groups", [{f"f{k}": 0 for k in range(900)}] * 400, "/groups/0/id"),
        ("schedules", [{"id": "x", "day_types": [0] * 2_000}] * 300, "/schedules/0/day_types/0"),
        ("schedules", [{"id": "x", "day_types": [0] * 100_000}], "/schedules/0/day_types/0"),
        ("prices", {"licences": [0] * 100_000}, "/prices/licences/0"),
    ],
)
def test_no_more_is_made_than_is_told(field, entries, pointer, monkeypatch):
    made = []
    wrong = bounded._wrong

    def counted(*arguments, **more):
        made.extend(found := wrong(*arguments, **more))
        return found

    monkeypatch.setattr(bounded, "_wrong", counted)
    with pytest.raises(PlanError) as caught:
        read_plan(document(**{field: entries}))
    assert caught.value.faults[0].pointer == pointer
    assert len(caught.value.faults) <= MOST_FAULTS and len(made) < 10 * 2_000


def test_faults_far_into_a_list_have_their_places():
    sites = [{"id": f"s{k}", "time_zone": "UTC"} for k in range(500)]
    sites[499] = sites[300] = {"id": "Not An Id", "time_zone": 5}
    holidays = {"own": [{"day": f"2027-01-{1 + k % 28:02}", "name": "x" * 50} for k in range(300)]}
    sites[0]["holidays"] = sites[1]["holidays"] = holidays
    with pytest.raises(PlanError) as caught:
        read_plan(document(sites=sites, week_of="someday"))
    pointers = [fault.pointer for fault in caught.value.faults]
    assert pointers == [
        "/week_of",
        *(f"/sites/{place}/{name}" for place in (300, 499) for name in ("id", "time_zone")),
    ]


@pytest.mark.parametrize(
    "text",
    [
        "[" + "{}," * MOST_CONTAINERS + "0]",
        "[" + "0," * (MOST_VALUES + 1) + "0]",
        '["' + '","' * (MOST_VALUES + 1) + '"]',
        json.dumps({f"f{k}": 0 for k in range(MOST_FIELDS + 1)}),
    ],
)
def test_a_text_that_holds_too_much_is_refused_before_it_is_read(text):
    with pytest.raises(TooMuchError):
        read_json(text)
    with pytest.raises(PlanError, match="more than"):
        parse_plan(text)


def test_a_table_in_a_text_holds_as_much_as_it_likes(monkeypatch):
    monkeypatch.setattr(bounds, "MOST_VALUES", 10)
    monkeypatch.setattr(bounds, "MOST_CONTAINERS", 10)
    table = 'a,"b{[",c\\\n' + "a,{,[,\n" * 100
    assert read_json(json.dumps({"text": table})) == {"text": table}
    with pytest.raises(TooMuchError, match="11 values"):
        read_json(json.dumps({"text": table, "more": [0] * 11}))
