"""Studies that were kept as jobs before they had a table of their own."""

from psycopg.types.json import Jsonb
from yoyo import get_backend, read_migrations

from idle_harbor.formats.plan.codec import plan_of, to_values
from idle_harbor.store import database as opened
from idle_harbor.store.database import Database, migrate
from idle_harbor.store.studies import Studies
from tests.conftest import fresh_database
from tests.core.plans import document

PARTS = ("wait_p95", "refused", "strained", "lost", "forced", "comfort")


def about(mean, half=None, unbounded=False):
    return {"mean": mean, "half": half, "unbounded": unbounded}


def point(name, wait):
    shares = {part: about(0.25, 0.125) for part in PARTS[1:]}
    return {"name": name, "money": about(500.0, 20.0), "wait_p95": wait, **shares, "pool": {}}


OLD = {
    "verdict": "found",
    "current": point("today", about(None, None, True)),
    "rules": [],
    "front": [point("", about(30.0, 2.0)), point("", about(None))],
    "tuned": None,
    "explained": {"before": 2.0, "after": 1.0, "steps": [{"change": "a", "wait": 3.0}]},
}


def without_the_last(address):
    backend = get_backend(address.replace("postgresql://", "postgresql+psycopg://", 1))
    last = read_migrations(str(opened._HERE / "migrations")).filter(
        lambda each: each.id == "0008.studies"
    )
    backend.rollback_migrations(last)
    backend.connection.close()


def test_old_answers_have_the_shape_of_today(cluster_address, migrated):
    plan = document()
    plan["pools"][0]["promise"] = {"comfort": 0.75}
    plan = to_values(plan_of(plan))
    with fresh_database(cluster_address, migrated) as address:
        without_the_last(address)
        with Database(address) as database, database.connection() as connection:
            for number, (axis, result) in enumerate((("comfort", OLD), ("refused_share", None))):
                given = {"plan": plan, "question": {"pool": "main", "axis": axis}, "plan_id": 7}
                connection.execute(
                    "INSERT INTO jobs (kind, key, title, owner, priority, input, parts, result)"
                    " VALUES ('study', %s, 't', 'o', 1, %s, 3, %s)",
                    [str(number), Jsonb(given), result and Jsonb(result)],
                )
        migrate(address)
        with Database(address) as database:
            first, second = (Studies(database).study(number) for number in (1, 2))
            assert Studies(database).plan(1) == plan
    assert (first["promised"], second["promised"]) == (0.75, 0.001)
    assert (first["currency"], first["plan_id"], second["answer"]) == ("EUR", None, None)
    answer = first["answer"]
    assert answer["current"]["promised"]["wait_p95_seconds"] == {
        **dict.fromkeys(("mean", "low", "high")),
        "unbounded": True,
    }
    kept, unknown = (each["promised"] for each in answer["front"])
    assert kept["wait_p95_seconds"] == {"mean": 30.0, "low": 28.0, "high": 32.0}
    assert kept["comfort"] == {"mean": 0.25, "low": 0.125, "high": 0.375}
    assert unknown["wait_p95_seconds"] == dict.fromkeys(("mean", "low", "high"))
    assert answer["front"][0]["money"] == {"mean": 500.0, "low": 480.0, "high": 520.0}
    assert not set(PARTS[:-1]) & set(answer["front"][0])
    assert answer["rules"] == [] and answer["tuned"] is None and answer["verdict"] == "found"
    assert answer["explained"]["steps"] == [{"change": "a"}]
