"""What the database says when it cannot: each trouble in its own words, saves before long reads."""

import threading
import time

import psycopg
import pytest

from idle_harbor.core.base.stopping import while_wanted
from idle_harbor.store.database import Database, StoreBusy, StoreFull, StoreGone, _in_words, queries
from idle_harbor.store.plans import Plans
from idle_harbor.web.app import create_app
from tests.core.plans import document, values
from tests.store.people import new_directory


def test_a_row_that_is_locked_for_three_seconds(store, database_address):
    row = Plans(store).create(values(), "", "ann")
    with psycopg.connect(database_address) as other:
        other.execute("SELECT FROM plans WHERE id = %s FOR UPDATE", [row["id"]])
        with pytest.raises(StoreBusy, match="locked by another change"):
            Plans(store).save(row["id"], 1, values(currency="SEK"), "", "ann")
    assert Plans(store).save(row["id"], 1, values(currency="SEK"), "", "ann")["number"] == 2


def test_a_statement_that_takes_too_long(store):
    with pytest.raises(StoreBusy, match="took longer"), store.connection() as connection:
        connection.execute("SET LOCAL statement_timeout = 50")
        connection.execute("SELECT pg_sleep(5)")


def test_two_changes_that_wait_for_each_other(store, database_address):
    ids = [Plans(store).create(values(name=name), "", "ann")["id"] for name in "ab"]
    met = threading.Barrier(2)
    said: list[str] = []

    def both(first, second):
        lock = "SELECT FROM plans WHERE id = %s FOR UPDATE"
        try:
            with store.connection() as connection:
                connection.execute("SET LOCAL deadlock_timeout = 50")
                connection.execute(lock, [first])
                met.wait(5)
                connection.execute(lock, [second])
        except StoreBusy as error:
            said.append(str(error))

    threads = [threading.Thread(target=both, args=pair) for pair in (ids, ids[::-1])]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(10)
    assert len(said) == 1 and "waited for each other" in said[0]


@pytest.mark.parametrize(
    ("error", "kind", "says"),
    [
        (psycopg.errors.DiskFull, StoreFull, "disk of the database is full"),
        (psycopg.errors.OutOfMemory, StoreFull, "out of memory"),
        (psycopg.errors.TooManyConnections, StoreBusy, "as many connections"),
        (psycopg.errors.SerializationFailure, StoreBusy, "came in between"),
        (psycopg.errors.AdminShutdown, StoreGone, "does not answer"),
        (psycopg.OperationalError, StoreGone, "does not answer"),
    ],
)
def test_every_trouble_has_its_own_sentence(error, kind, says):
    found = _in_words(error("raw words of the server"))
    assert type(found) is kind and says in str(found)


def test_a_full_disk_is_told_as_such(database_address, monkeypatch):
    app = create_app(database_address)
    client = app.test_client()

    def full(*_, **__):
        raise psycopg.errors.DiskFull("could not extend file")

    monkeypatch.setattr(queries, "insert_plan", full)
    got = client.post("/api/plans", json={"plan": document()})
    assert got.status_code == 507
    assert "disk of the database is full" in got.json["detail"]
    app.extensions["database"].close()


def test_all_connections_in_use_is_not_gone(database_address):
    with Database(database_address, wait=0.3) as store:
        held = [store._pool.getconn() for _ in range(8)]
        with pytest.raises(StoreBusy, match="every connection"):
            store.ping()
        for connection in held:
            store._pool.putconn(connection)
        store.ping()


def test_long_looks_at_the_directory_leave_saves_their_connections(store, monkeypatch):
    """Twenty pages look at a large directory; every save goes through meanwhile."""
    monkeypatch.setattr("idle_harbor.store.directory._READ_WAIT", 0.2)
    slow = threading.Event()

    def classes(connection, keys):
        connection.execute("SELECT pg_sleep(0.5)")
        slow.set()
        return []

    monkeypatch.setattr(queries, "directory_classes", classes)
    held, refused = new_directory(store), []

    def look():
        try:
            held.classes(["a"])
        except StoreBusy:
            refused.append(1)

    threads = [threading.Thread(target=look) for _ in range(20)]
    for thread in threads:
        thread.start()
    row = Plans(store).create(values(), "", "ann")
    for number in range(1, 9):
        Plans(store).save(row["id"], number, values(currency="SEK"), str(number), "ann")
    for thread in threads:
        thread.join(20)
    assert refused and slow.is_set()


def test_the_directory_is_counted_once(store, monkeypatch):
    held = new_directory(store)
    first = held.summary()
    assert (first["people"], first["groups"]) == (0, [])

    def counted(*_):
        raise AssertionError("counted again")

    monkeypatch.setattr(queries, "directory_totals", counted)
    assert held.summary() == first


def imported(held, text=b"key,name,mail,groups\nann,Ann,,office\n"):
    number = held.take("a file", "csv", [text])
    held.read(number)
    return number


def test_an_apply_that_fails_keeps_its_reason(store, monkeypatch):
    held = new_directory(store)
    number = imported(held)
    held.claim(number)

    def full(*_):
        raise psycopg.errors.DiskFull("could not extend file")

    monkeypatch.setattr(queries, "apply_members", full)
    held.apply(number)
    latest = held.latest_import()
    assert latest["state"] == "failed"
    assert latest["problem"] == "nothing was changed: the disk of the database is full"


def test_applied_people_are_counted_with_them(store):
    held = new_directory(store)
    held.summary()
    number = imported(held)
    held.claim(number)
    held.apply(number)
    found = held.summary()
    assert (found["people"], found["in_none"]) == (1, 0)
    assert [(group["key"], group["people"]) for group in found["groups"]] == [("office", 1)]


@pytest.mark.parametrize("step", ["find_repeated_people", "apply_people"])
def test_a_stop_is_heard_inside_a_long_statement(store, monkeypatch, step):
    """A statement that would take a minute ends within a second of the stop, all as it was."""
    held, began = new_directory(store), threading.Event()

    def slow(connection, **_):
        began.set()
        connection.execute("SELECT pg_sleep(60)")

    done: list[int] = []

    def work():
        done.append(imported(held))
        if step == "apply_people":
            held.claim(done[0])
            held.apply(done[0])

    monkeypatch.setattr(queries, step, slow)
    thread = threading.Thread(target=work)
    thread.start()
    assert began.wait(20)
    asked = time.monotonic()
    held.drop(held.latest_import()["id"])
    thread.join(20)
    assert time.monotonic() - asked < 3.0
    latest = held.latest_import()
    assert (latest["state"], latest["problem"]) == (
        "dropped",
        "stopped on request; the directory is as it was",
    )
    assert held.summary()["people"] == 0


def test_a_stop_is_heard_while_a_file_brings_no_rows(store):
    """Millions of lines of comments are no rows; the stop is asked before the first."""
    held = new_directory(store)
    pieces = [b"dn: uid=a,dc=x\n", *([b"# nothing\n" * 100_000] * 30)]
    number = held.take("a file", "ldif", pieces)
    looked = []

    def wanted():
        looked.append(1)
        held.drop(number)
        return True

    with while_wanted(wanted):
        held.read(number)
    assert held.latest_import()["state"] == "dropped" and looked == [1]
