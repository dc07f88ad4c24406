"""Directories of plans: their own tables, what becomes of unused ones, and of the one before."""

import pytest
from yoyo import get_backend, read_migrations

from idle_harbor.store import database as opened
from idle_harbor.store.database import Database, migrate
from idle_harbor.store.directories import Directories, NoSuchDirectory
from idle_harbor.store.directory import Directory
from idle_harbor.store.plans import NoSuchPlan, Plans
from tests.conftest import fresh_database
from tests.core.plans import values
from tests.store.people import new_directory

PEOPLE = b"key,name,mail,groups\nann,Ann,,office\nben,Ben,,office\n"


def fill(directory):
    number = directory.take("a file", "csv", [PEOPLE])
    directory.read(number)
    directory.claim(number)
    directory.apply(number)


def schemas(database):
    with database.connection() as connection:
        rows = connection.execute(
            "SELECT nspname FROM pg_namespace WHERE nspname LIKE 'directory_%'"
        )
        return {row["nspname"] for row in rows}


def test_an_unused_directory_goes_after_a_while_and_a_shared_one_stays(database_address):
    with Database(database_address) as database:
        held, plans = Directories(database), Plans(database)
        first = plans.create(values(), "", "ann")["id"]
        second = plans.create(values(name="second"), "", "ann")["id"]
        number = held.for_plan(first)
        assert held.for_plan(first) == number and held.of_plan(second) is None
        fill(Directory(database, number))
        held.give(second, number)
        held.give(first, None)
        with pytest.raises(NoSuchDirectory):
            held.give(first, 99)
        with pytest.raises(NoSuchPlan):
            held.give(99, number)
        held.tidy()
        (row,) = held.all()
        assert (row["people"], row["plans"]) == (2, ["second"])
        held.give(second, None)
        held.tidy()
        assert schemas(database) == {f"directory_{number}"}  # it may still be taken back
        with database.connection() as connection:
            connection.execute("UPDATE directories SET unused_since = now() - interval '31 days'")
        held.give(first, number)
        held.tidy()
        assert schemas(database) == {f"directory_{number}"}
        held.give(first, None)
        held.tidy()
        with database.connection() as connection:
            connection.execute("UPDATE directories SET unused_since = now() - interval '31 days'")
        held.tidy()
        assert (schemas(database), held.all()) == (set(), [])
        assert new_directory(database).latest_import() is None


def turn_back(address, name):
    backend = get_backend(address.replace("postgresql://", "postgresql+psycopg://", 1))
    last = read_migrations(str(opened._HERE / "migrations")).filter(lambda each: each.id == name)
    backend.rollback_migrations(last)
    backend.connection.close()


@pytest.mark.parametrize("filled", [True, False])
def test_the_directory_of_before_becomes_the_one_that_all_plans_share(
    cluster_address, migrated, filled
):
    with fresh_database(cluster_address, migrated) as address:
        with Database(address) as database:
            plans, held = Plans(database), Directories(database)
            ids = [plans.create(values(name=name), "", "ann")["id"] for name in ("a", "b")]
            if filled:
                fill(Directory(database, held.for_plan(ids[1])))
        turn_back(address, "0010.directories")
        with Database(address) as database, database.connection() as connection:
            (row,) = connection.execute("SELECT count(*) AS people FROM people")
            assert row["people"] == (2 if filled else 0)
        migrate(address)
        with Database(address) as database:
            held = Directories(database)
            assert [held.of_plan(each) for each in ids] == ([1, 1] if filled else [None, None])
            if filled:
                directory = Directory(database, 1)
                assert directory.summary()["people"] == 2
                assert held.all()[0]["people"] == 2
                fill(directory)
                assert directory.latest_import()["state"] == "applied"
            other = held.for_plan(Plans(database).create(values(name="c"), "", "ann")["id"])
            assert Directory(database, other).summary()["people"] == 0
