"""Two edits of different things, drawn by the thousand: a merge keeps both, whoever is preferred.

What a thing is is written out here apart from the code: by which fields the members of each list
are known. A merge is right if it is what the two edits make one after the other, orders apart.
"""

import copy
import pickle
import random
from dataclasses import fields
from typing import Any

from idle_harbor.core.plan.schedules import BandException, ReadyByException
from idle_harbor.core.plan.table import list_keys
from idle_harbor.demo.scenario import demo_plan
from idle_harbor.formats.plan.codec import plan_schema, read_plan, to_values
from idle_harbor.formats.plan.merge import changes, merge
from tests.sizes import size

KNOWN_BY = {
    "bands": ["from"],
    "access": ["group", "pool", "as"],
    "overlaps": ["groups"],
    "offers": ["size"],
    "lines": ["site"],
    "committed": ["years"],
    "assigned": ["group", "person"],
    "apps_at_logon": ["app"],
    "own": ["day"],
    "breaks": ["at", "after_minutes"],
    "ranges": ["from"],
    "ready_by": ["at"],
    "drain_steps": ["by"],
    "exceptions": ["pool"],
}
PAIRS = size(400, 4_000)


def whole_plan() -> dict[str, Any]:
    """The demo with something in every list."""
    plan = to_values(read_plan(demo_plan()))
    plan["pools"][0]["apps_at_logon"] = [
        {"app": "Ledger", "seconds": 2},
        {"app": "Maps", "seconds": 3},
    ]
    plan["sites"][0]["holidays"]["own"] = [
        {"day": "2027-05-03", "name": "a"},
        {"day": "2027-06-07", "name": "b"},
    ]
    plan["prices"]["licences"] = [
        {"id": "one", "monthly": "5", "per": "named person", "pools": ["office", "line"]},
        {"id": "two", "monthly": "7", "per": "peak session", "pools": []},
    ]
    plan["sizes"][0]["committed"] = [{"years": 1, "hourly": "0.30"}, {"years": 3, "hourly": "0.20"}]
    plan["pools"][4]["assigned"] = [
        {"group": "control-room", "person": k, "host": k} for k in range(1, 6)
    ]
    day_type = plan["schedules"][0]["day_types"][0]
    end = {"until": None, "clock_of": None}
    day_type["ready_by"] = [
        {"at": "07:00", "hosts": 5, "share": 0.0, **end},
        {"at": "13:00", "hosts": 9, "share": 0.1, **end},
    ]
    day_type["ranges"] = [
        {"from": "2027-07-01", "to": "2027-07-09"},
        {"from": "2027-08-02", "to": "2027-08-06"},
    ]
    day_type["bands"][-1]["drain_steps"] = [
        {"by": "18:00", "share": 0.25},
        {"by": "20:00", "share": 0.5},
    ]
    rule = {
        "signal": "cpu",
        "asks_hold_minutes": 10,
        "adds": 1,
        "permits_at": 0.4,
        "permits_hold_minutes": 20,
        "takes_back": 1,
        "pause_minutes": 15,
    }
    plan["schedules"][0]["load_rules"] = [
        {"id": "busy", "asks_at": 0.8, **rule},
        {"id": "full", "asks_at": 0.9, **rule},
    ]
    day_type["bands"][0]["load_rules"] = ["busy", "full"]
    for thing, part, field in (
        (day_type["bands"][1], BandException, "floor"),
        (day_type["ready_by"][0], ReadyByException, "hosts"),
    ):
        none = {each.name: None for each in fields(part)}
        thing["exceptions"] = [
            none | {"pool": "office", field: 4},
            none | {"pool": "line", field: 5},
        ]
    return plan


Way = tuple[Any, ...]


def key_of(name: str, item: dict[str, Any]) -> Any:
    return tuple(str(item.get(field)) for field in KNOWN_BY.get(name, ["id"]))


def places(value: Any, way: Way = (), name: str = "") -> Any:
    """Everything that can be edited: (way, what), ways through lists by keys and not by places."""
    if isinstance(value, dict):
        for field, inner in value.items():
            if field in KNOWN_BY.get(name, ["id"]) or field in ("format", "kind"):
                continue
            yield from places(inner, (*way, field), field)
    elif isinstance(value, list) and value and all(isinstance(v, dict) for v in value):
        yield (way, "add")
        for item in value:
            inner_way = (*way, key_of(name, item))
            yield (inner_way, "remove")
            for field, inner in item.items():
                if field not in KNOWN_BY.get(name, ["id"]):
                    yield from places(inner, (*inner_way, field), field)
    elif isinstance(value, list) and value and all(isinstance(v, str) for v in value):
        yield (way, "add text")
        for text in value:
            yield ((*way, text), "remove text")
    elif isinstance(value, list) and value and all(isinstance(v, float) for v in value):
        for place in range(len(value)):
            yield ((*way, place), "number")
    elif not isinstance(value, list):
        yield (way, "value")


def walk(plan: Any, way: Way) -> Any:
    at, name = plan, ""
    for step in way:
        if isinstance(at, dict):
            at, name = at[step], step
        else:
            at = next(item for item in at if key_of(name, item) == step)
    return at


def edit(plan: dict[str, Any], way: Way, what: str, mark: str) -> None:
    """Carry an edit out, in place; ``mark`` makes what it puts there its own."""
    if what == "add":
        items = walk(plan, way)
        new = copy.deepcopy(items[0])
        for field in KNOWN_BY.get(way[-1], ["id"]):
            new[field] = [mark, "x"] if isinstance(new[field], list) else mark
            if field in ("years", "person"):
                new[field] = 1_000 + len(mark)
        items.append(new)
        return
    holder, last = walk(plan, way[:-1]), way[-1]
    if what == "remove":
        holder.remove(next(item for item in holder if key_of(way[-2], item) == last))
    elif what == "add text":
        holder[last].append(mark)
    elif what == "remove text":
        holder.remove(last)
    elif what == "number":
        holder[last] += 0.5 + len(mark)
    else:
        holder[last] = f"{holder[last]} {mark}"


def normal(value: Any, name: str = "") -> Any:
    """A plan in which the order of things with keys, and of texts, does not count."""
    if isinstance(value, dict):
        return {field: normal(inner, field) for field, inner in value.items()}
    if isinstance(value, list) and value and all(isinstance(v, dict) for v in value):
        return sorted((normal(v, name) for v in value), key=lambda v: key_of(name, v))
    if isinstance(value, list) and value and all(isinstance(v, str) for v in value):
        return value if name == "order" else sorted(value)
    return value


def apart(one: tuple[Way, str], other: tuple[Way, str]) -> bool:
    """Whether two edits are of different things: neither is, or is in, what the other removes."""
    (a, _), (b, _) = one, other
    short = min(len(a), len(b))
    return a[:short] != b[:short]


def test_a_merge_keeps_both_edits():
    base = whole_plan()
    packed = pickle.dumps(base)
    found = [p for p in places(base) if not (p[0] and "order" in p[0])]
    draw = random.Random(7)
    tried = 0
    while tried < PAIRS:
        one, other = draw.choice(found), draw.choice(found)
        if not apart(one, other):
            continue
        tried += 1
        yours, theirs, both = (pickle.loads(packed) for _ in range(3))
        edit(yours, *one, "mine")
        edit(theirs, *other, "theirs")
        edit(both, *one, "mine")
        edit(both, *other, "theirs")
        merged = merge(base, yours, theirs, "yours")
        assert merged == merge(base, yours, theirs, "theirs")
        assert normal(merged) == normal(both), (one, other)
        by = {change.by for change in changes(base, yours, theirs)}
        assert by == {"yours", "theirs"}, (one, other)


def test_both_add_to_the_same_list():
    base = whole_plan()
    packed = pickle.dumps(base)
    for way in [place for place, what in places(base) if what == "add"]:
        yours, theirs, both = (pickle.loads(packed) for _ in range(3))
        edit(yours, way, "add", "mine")
        edit(theirs, way, "add", "others")
        edit(both, way, "add", "mine")
        edit(both, way, "add", "others")
        assert normal(merge(base, yours, theirs, "yours")) == normal(both), way


def test_every_list_of_a_plan_has_its_key():
    """Each list of things in the schema has an id, or the fields by which its things are known."""
    definitions = plan_schema()["$defs"]
    missing = []
    for part in [*definitions.values(), plan_schema()]:
        for name, field in part.get("properties", {}).items():
            reference = field.get("items", {}).get("$ref", "")
            if field.get("type") == "array" and reference:
                inner = definitions[reference.rpartition("/")[2]]["properties"]
                if not set(list_keys().get(name, ("id",))) <= set(inner):
                    missing.append(name)
    assert missing == []
    assert {name: list(fields) for name, fields in list_keys().items()} == KNOWN_BY
