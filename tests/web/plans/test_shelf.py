"""The list of stored plans: names, copies, removal, what revisions changed, weeks in small."""

import numpy as np
import psycopg
import pytest

from idle_harbor.core.weeks import small
from idle_harbor.formats.plan.codec import read_plan
from idle_harbor.store.plans import Plans
from tests.core.plans import document
from tests.web.asking import body


def listed(client):
    found = client.get("/api/plans").json
    return [[each["name"] for each in found[part]] for part in ("plans", "removed")]


def test_a_new_name_is_a_revision_that_changes_nothing_else(client, stored):
    path = f"/api/plans/{stored}/name"
    named = client.put(path, json={"name": "Café — Haus 2"})
    assert named.status_code == 200 and named.json["number"] == 2
    assert listed(client) == [["Café — Haus 2"], []]
    changed = client.get(f"/api/plans/{stored}/revisions/2/changes").json
    assert changed == {
        "changes": [{"place": "name", "before": "Small", "after": "Café — Haus 2"}],
        "more": 0,
    }
    # The same name again is no revision.
    assert client.put(path, json={"name": "Café — Haus 2"}).json["number"] == 2
    other = client.post("/api/plans", json=body(document(name="Other"))).json["id"]
    taken = client.put(f"/api/plans/{other}/name", json={"name": "Café — Haus 2"})
    assert taken.status_code == 409 and "another plan is called" in taken.text
    for wrong in ("", "x" * 121, "a\x00b"):
        assert client.put(path, json={"name": wrong}).status_code == 422


def test_a_copy_is_of_the_revision_that_was_asked_for(client, stored):
    client.put(
        f"/api/plans/{stored}",
        json=body(document(currency="GBP"), "pounds"),
        headers={"If-Match": '"1"'},
    )
    latest = client.post(f"/api/plans/{stored}/copy", json={"name": "Latest"})
    first = client.post(f"/api/plans/{stored}/copy", json={"name": "First", "number": 1})
    assert [each.status_code for each in (latest, first)] == [201, 201]
    assert [each.json["plan"]["currency"] for each in (latest, first)] == ["GBP", "EUR"]
    assert first.json["words"] == "copied from r1 of Small" and first.json["number"] == 1
    again = client.post(f"/api/plans/{stored}/copy", json={"name": "First"})
    assert again.status_code == 409
    gone = client.post(f"/api/plans/{stored}/copy", json={"name": "New", "number": 9})
    assert gone.status_code == 404


def test_a_removed_plan_is_gone_until_it_is_restored(client, stored):
    path = f"/api/plans/{stored}"
    assert client.post(f"{path}/remove").json["plans"] == []
    assert listed(client) == [[], ["Small"]]
    save = {"json": body(document()), "headers": {"If-Match": '"1"'}}
    for answer in (client.get(path), client.get(f"{path}/revisions"), client.put(path, **save)):
        assert answer.status_code == 404
    assert client.post(f"{path}/remove").status_code == 404
    # Its name is free in the meantime, and has to be again before it can come back.
    other = client.post("/api/plans", json=body(document())).json["id"]
    assert client.post(f"{path}/restore").status_code == 409
    client.put(f"/api/plans/{other}/name", json={"name": "Other"})
    restored = client.post(f"{path}/restore")
    assert restored.status_code == 200 and restored.json["removed"] == []
    assert sorted(listed(client)[0]) == ["Other", "Small"]
    assert client.get(path).json["plan"]["currency"] == "EUR"
    assert client.post("/api/plans/999/restore").status_code == 404


def test_what_was_removed_long_ago_is_deleted_with_its_revisions(client, stored, database_address):
    plans = Plans(client.application.extensions["database"])
    client.post(f"/api/plans/{stored}/remove")
    plans.tidy()
    assert len(plans.removed()) == 1
    with psycopg.connect(database_address) as other:
        with pytest.raises(psycopg.errors.RaiseException, match="immutable"):
            other.execute("DELETE FROM revisions")
        other.rollback()
        other.execute("UPDATE plans SET removed_at = now() - interval '31 days'")
    plans.tidy()
    assert plans.removed() == []
    with psycopg.connect(database_address) as other:
        assert other.execute("SELECT count(*) FROM revisions").fetchone() == (0,)


def test_changes_of_a_revision_are_told_in_words(client, stored):
    plan = client.get(f"/api/plans/{stored}").json["plan"]
    pool = plan["pools"][0]
    pool["session_limit"] += 1
    plan["schedules"][0]["day_types"][0]["bands"][1]["floor"] += 2
    plan["pools"].append({**pool, "id": "second", "name": "Second Pool"})
    saved = client.put(f"/api/plans/{stored}", json=body(plan, "more"), headers={"If-Match": '"1"'})
    assert saved.status_code == 200, saved.text
    told = client.get(f"/api/plans/{stored}/revisions/2/changes").json["changes"]
    found = {each["place"]: (each["before"], each["after"]) for each in told}
    limit, floor = pool["session_limit"], 2
    name = pool.get("name") or pool["id"]
    assert found[f"pool {name}, session limit"] == (str(limit - 1), str(limit))
    assert found["pool Second Pool"] == ("", "Second Pool")
    (place,) = (each for each in found if each.endswith("floor"))
    assert place.startswith("schedule ") and ", day type " in place and ", band 07:30" in place
    before, after = found[place]
    assert int(after) == int(before) + floor
    assert client.get(f"/api/plans/{stored}/revisions/1/changes").json == {
        "changes": [],
        "more": 0,
    }


def test_a_week_in_small_is_that_of_the_pools_together(client, stored, monkeypatch):
    told = client.get(f"/api/plans/{stored}/small").json
    assert len(told["sessions"]) == len(told["ready"]) == 7 * 24
    # Nobody comes on Sunday; on Monday at eleven people work, with room for each of them.
    assert max(told["sessions"][6 * 24 :]) <= 1
    assert told["sessions"][11] > 1 and told["ready"][11] >= told["sessions"][11] - 1
    plan = read_plan(document())
    one = small.small_week(plan)
    second = {**document()["pools"][0], "id": "second"}
    use = {**document()["access"][0], "pool": "second"}
    both = read_plan(
        document(pools=[*document()["pools"], second], access=[*document()["access"], use])
    )
    assert one is not None
    two = small.small_week(both)
    assert two is not None
    assert np.all(two.ready >= one.ready - 1e-9) and two.sessions.sum() > 1.5 * one.sessions.sum()
    monkeypatch.setattr(small, "MOST_SPELLS", 1)
    assert small.small_week(plan) is None
    assert small.small_week(read_plan({"name": "x", "week_of": "2027-03-01"})) is None
