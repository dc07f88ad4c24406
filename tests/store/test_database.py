"""Plans and revisions in real PostgreSQL."""

import psycopg
import pytest
from procrastinate.schema import SchemaManager
from pydantic_core import from_json

from idle_harbor.core.errors import Fault, PlanError
from idle_harbor.demo.load import load_demo
from idle_harbor.formats.plan.codec import canonical, content_hash
from idle_harbor.store import database, results
from idle_harbor.store.database import Database, StoreGone, migrate
from idle_harbor.store.plans import NameTaken, NoSuchPlan, Plans, StaleSave
from idle_harbor.store.results import Results
from tests.core.plans import values


def test_a_plan_is_stored_as_its_first_revision(store):
    row = Plans(store).create(values(), "first", "ana")
    assert (row["number"], row["latest"], row["author"], row["words"]) == (1, 1, "ana", "first")
    assert from_json(row["canonical"]) == values()
    assert row["content_hash"] == content_hash(values())
    assert [p["name"] for p in Plans(store).all()] == ["Small"]


def test_revisions_count_up_and_stay(store):
    plan_id = Plans(store).create(values(), "first", "ana")["id"]
    Plans(store).save(plan_id, 1, values(currency="GBP"), "in pounds", "ben")
    assert [r["number"] for r in Plans(store).revisions(plan_id)] == [2, 1]
    assert from_json(Plans(store).revision(plan_id)["canonical"])["currency"] == "GBP"
    assert from_json(Plans(store).revision(plan_id, 1)["canonical"])["currency"] == "EUR"


def test_a_stale_save_is_refused(store):
    plan_id = Plans(store).create(values(), "", "ana")["id"]
    Plans(store).save(plan_id, 1, values(currency="GBP"), "", "ben")
    with pytest.raises(StaleSave) as caught:
        Plans(store).save(plan_id, 1, values(currency="SEK"), "", "ana")
    assert caught.value.latest == 2
    assert len(Plans(store).revisions(plan_id)) == 2


def test_revisions_are_immutable(store, database_address):
    Plans(store).create(values(), "", "ana")
    with (
        psycopg.connect(database_address) as other,
        pytest.raises(psycopg.errors.RaiseException, match="immutable"),
    ):
        other.execute("UPDATE revisions SET words = 'changed'")


def test_canonical_text_is_kept_beside_the_document(store, database_address):
    Plans(store).create(values(), "", "ana")
    with psycopg.connect(database_address) as other:
        row = other.execute("SELECT canonical FROM revisions").fetchone()
    assert row is not None and row[0] == canonical(values())


def test_names_are_unique(store):
    Plans(store).create(values(), "", "ana")
    with pytest.raises(NameTaken, match="'Small'"):
        Plans(store).create(values(), "", "ana")
    other = Plans(store).create(values(name="Other"), "", "ana")["id"]
    with pytest.raises(NameTaken):
        Plans(store).save(other, 1, values(), "", "ana")
    assert len(Plans(store).revisions(other)) == 1


def test_what_is_not_there(store):
    for call in (
        lambda: Plans(store).revision(99),
        lambda: Plans(store).revisions(99),
        lambda: Plans(store).save(99, 1, values(), "", "ana"),
    ):
        with pytest.raises(NoSuchPlan, match="no plan 99"):
            call()
    plan_id = Plans(store).create(values(), "", "ana")["id"]
    with pytest.raises(NoSuchPlan, match=f"no revision 7 of plan {plan_id}"):
        Plans(store).revision(plan_id, 7)


def test_plans_are_found_by_name_or_number(store):
    plan_id = Plans(store).create(values(), "", "ana")["id"]
    assert Plans(store).find("Small") == values()
    assert Plans(store).find(str(plan_id)) == values()
    assert Plans(store).find("nothing") is None


def test_results_are_bounded_and_age(store, database_address, monkeypatch):
    """Looked at every second time here: the fifth and the sixth, and so the first two and one of
    age go."""
    monkeypatch.setattr(results, "MOST_RESULTS", 1_000)
    monkeypatch.setattr(results, "TRIM_EVERY", 2)
    kept = Results(store)
    for k in range(5):
        kept.keep(f"{k:064x}", "e1", "range 8", "x" * 300)
    there = [kept.find(f"{k:064x}", "e1", "range 8") is not None for k in range(5)]
    assert there == [False, False, True, True, True]
    with psycopg.connect(database_address) as other:
        other.execute(
            "UPDATE results SET made_at = now() - interval '91 days' WHERE input_hash = %s",
            (f"{3:064x}",),
        )
    for k in (5, 6):
        kept.keep(f"{k:064x}", "e1", "range 8", "{}")
    there = [kept.find(f"{k:064x}", "e1", "range 8") is not None for k in range(7)]
    assert there == [False, False, True, False, True, True, True]


def test_results_are_kept_by_input_and_engine(store):
    key, kept = "a" * 64, Results(store)
    assert kept.find(key, "e1", "range 8") is None
    kept.keep(key, "e1", "range 8", "{}")
    kept.keep(key, "e1", "range 8", "{}")
    assert kept.find(key, "e1", "range 8") == "{}"
    assert kept.find(key, "e2", "range 8") is None
    kept.drop_old("e2")
    assert kept.find(key, "e1", "range 8") is None


def test_migrating_twice_changes_nothing(store, database_address):
    Plans(store).create(values(), "", "ana")
    migrate(database_address)
    assert Plans(store).count() == 1


def test_the_tables_of_the_queue_are_those_of_the_library():
    """Migration 0004 is frozen: where this fails, the library has another schema, and a new
    migration has to bring old databases there."""
    text = (database._HERE / "migrations" / "0004.queue.sql").read_text("utf-8")
    assert text.partition("has the steps).\n\n")[2] == SchemaManager.get_schema().strip() + "\n"


def test_the_demo_is_loaded_once(store, database_address):
    assert load_demo(database_address)
    assert not load_demo(database_address)
    assert Plans(store).count() == 1


def test_a_database_that_is_not_there():
    gone = Database("postgresql://nobody@127.0.0.1:1/none", wait=0.5)
    with gone, pytest.raises(StoreGone):
        gone.ping()


def test_nothing_is_stored_where_the_check_beside_it_fails(store):
    def refuse():
        raise PlanError([Fault("/pools", "cannot be", "mend it")])

    with pytest.raises(PlanError):
        Plans(store).create(values(), "", "ann", refuse)
    assert Plans(store).count() == 0
    row = Plans(store).create(values(), "", "ann", lambda: None)
    with pytest.raises(PlanError):
        Plans(store).save(row["id"], 1, values(currency="SEK"), "", "ann", refuse)
    assert Plans(store).revision(row["id"])["number"] == 1
    # The plan is free for the next one at once.
    assert Plans(store).save(row["id"], 1, values(currency="GBP"), "", "ann")["number"] == 2
