"""Imports in real PostgreSQL: previewed, all or nothing."""

from collections.abc import Iterator

import pytest

from idle_harbor.core.base.stopping import while_wanted
from idle_harbor.core.demand.nesting import circle_among
from idle_harbor.core.errors import NotWantedError
from idle_harbor.store.database import Database
from idle_harbor.store.directory import Directory, ImportUnderWay, NotReady
from idle_harbor.store.jobs import Jobs, Wish, insert_job
from tests.store.people import new_directory

HEAD = "key,name,mail,groups\n"
FIRST = HEAD + "p1,Ann,ann@x,a;b\np2,Ben,,a\np3,Cy,,\n"


@pytest.fixture
def directory(database_address: str) -> Iterator[Directory]:
    with Database(database_address) as opened:
        yield new_directory(opened)


@pytest.fixture
def read(directory):
    def work(text, form="csv"):
        whole = text if isinstance(text, bytes) else text.encode()
        cut = len(whole) // 3
        directory.read(directory.take(f"file.{form}", form, [whole[:cut], b"", whole[cut:]]))
        return directory.latest_import()

    return work


@pytest.fixture
def take(directory, read):
    def work(text, form="csv"):
        found = read(text, form)
        assert found["state"] == "ready", found
        directory.claim(found["id"])
        directory.apply(found["id"])
        assert directory.latest_import()["state"] == "applied"
        return found["preview"]

    return work


def test_the_first_import_adds_everybody(directory, take):
    preview = take(FIRST)
    assert preview["people"] == {"added": 3, "changed": 0, "dropped": 0, "total": 3}
    held = directory.summary()
    assert (held["people"], held["in_none"], held["in_several"]) == (3, 1, 1)
    assert [(g["key"], g["people"]) for g in held["groups"]] == [("a", 2), ("b", 1)]


def test_a_preview_says_what_would_change_and_nothing_has(directory, read, take):
    take(FIRST)
    found = read(HEAD + "p1,Ann Moor,ann@x,a\np2,Ben,,a;c\np4,Di,,a\n")
    preview = found["preview"]
    assert preview["people"] == {"added": 1, "changed": 1, "dropped": 1, "total": 3}
    assert preview["added"][0]["key"] == "p4" and preview["dropped"][0]["key"] == "p3"
    assert preview["changed"][0] == {"key": "p1", "now": "Ann Moor, ann@x", "before": "Ann, ann@x"}
    moves = {g["key"]: (g["what"], g["joining"], g["leaving"]) for g in preview["groups"]}
    assert moves == {"a": ("kept", 1, 0), "b": ("dropped", 0, 1), "c": ("added", 1, 0)}
    assert directory.summary()["people"] == 3
    directory.drop(found["id"])
    assert directory.latest_import()["state"] == "dropped"
    with pytest.raises(NotReady):
        directory.claim(found["id"])


def test_the_same_file_again_changes_nothing(take):
    take(FIRST)
    preview = take(FIRST)
    assert preview["people"] == {"added": 0, "changed": 0, "dropped": 0, "total": 3}
    assert preview["groups"] == []


@pytest.mark.parametrize(
    ("text", "line", "says"),
    [
        (FIRST + "p1,Ann again,,\n", 5, "the key p1 was given before, in line 2"),
        (FIRST + ",Nobody,,\n", 5, "the key is empty"),
        (FIRST + "p4,Cut", 5, "2 cells"),
    ],
)
def test_one_wrong_row_and_nothing_is_taken(directory, read, take, text, line, says):
    take(FIRST)
    found = read(text.replace("Ben", "Benno"))
    assert found["state"] == "wrong" and found["preview"]["wrong"] == 1
    fault = found["preview"]["faults"][0]
    assert fault["line"] == line and says in fault["what"] and fault["mend"]
    with pytest.raises(NotReady, match="wrong"):
        directory.claim(found["id"])
    assert directory.summary()["people"] == 3


def group_record(name, *members):
    lines = "".join(f"member: {member}\n" for member in members)
    return f"dn: cn={name},dc=x\nobjectClass: groupOfNames\ncn: {name}\n{lines}\n"


PERSON = "dn: uid=p1,dc=x\nobjectClass: person\nuid: p1\ncn: Ann\n\n"


def test_people_of_inner_groups_count_in_the_outer_one(directory, take):
    take(
        PERSON + group_record("outer", "cn=inner,dc=x") + group_record("inner", "uid=p1,dc=x"),
        "ldif",
    )
    groups = {g["key"]: (g["people"], g["holds"]) for g in directory.summary()["groups"]}
    assert groups == {"outer": (1, ["inner"]), "inner": (1, [])}


def test_a_circle_of_groups_and_strangers_are_found(read):
    found = read(PERSON + group_record("a", "cn=b,dc=x") + group_record("b", "cn=a,dc=x"), "ldif")
    assert found["state"] == "wrong"
    assert found["preview"]["faults"][0]["what"] == (
        "groups hold each other in a circle: a holds b holds a"
    )
    found = read(PERSON + group_record("a", "uid=p9,dc=x"), "ldif")
    assert "uid=p9,dc=x is in a group, but is nobody" in found["preview"]["faults"][0]["what"]


def test_circles():
    assert circle_among([]) is None
    assert circle_among([("a", "b"), ("b", "c"), ("a", "c")]) is None
    assert circle_among([("a", "b"), ("b", "c"), ("c", "b")]) == ["b", "c"]
    assert circle_among([("a", "a")]) == ["a"]
    assert circle_among([(str(k), str(k + 1)) for k in range(20_000)]) is None


def test_a_file_that_cannot_be_read_leaves_the_directory(directory, read, take):
    take(FIRST)
    found = read(FIRST.replace("Cy", "Zoë").encode("latin-1"))
    assert found["state"] == "failed" and "not UTF-8" in found["problem"]
    assert directory.summary()["people"] == 3


def test_a_failure_while_applying_changes_nothing(directory, read, take, database_address):
    """The last table cannot be written: the people before it are as they were too."""
    import psycopg

    take(FIRST)
    found = read(HEAD + "p9,New,,z\n")
    table = f"directory_{directory.directory_id}.memberships"
    with psycopg.connect(database_address, autocommit=True) as admin:
        admin.execute(f"ALTER TABLE {table} ADD CONSTRAINT none CHECK (group_key <> 'z')")
    try:
        directory.claim(found["id"])
        directory.apply(found["id"])
    finally:
        with psycopg.connect(database_address, autocommit=True) as admin:
            admin.execute(f"ALTER TABLE {table} DROP CONSTRAINT none")
    after = directory.latest_import()
    assert after["state"] == "failed" and "nothing was changed" in after["problem"]
    assert [g["key"] for g in directory.summary()["groups"]] == ["a", "b"]
    assert directory.summary()["people"] == 3


@pytest.fixture
def job(directory):
    """Makes a job, and says how jobs end."""

    class Job:
        def __call__(self, connection, import_id):
            wish = Wish("import", f"import {import_id}", "Read", "", 1, {}, 1)
            self.id = insert_job(connection, wish)["id"]
            return self.id

        def end(self, state, problem=""):
            Jobs(directory.database).end(self.id, state, problem)

    return Job()


def test_one_import_at_a_time_and_a_left_one_gives_way(directory, read, job, database_address):
    """Whatever process works on it: only once its job has ended it is left behind."""
    number = directory.take("one", "csv", [HEAD.encode()], job)
    with Database(database_address) as another, pytest.raises(ImportUnderWay):
        Directory(another, directory.directory_id).take("two", "csv", [b""])
    assert directory.latest_import()["state"] == "reading"
    job.end("failed", "a part took too long")
    latest = directory.latest_import()
    assert (latest["id"], latest["state"]) == (number, "failed")
    assert latest["problem"] == "a part took too long"
    assert read(FIRST)["state"] == "ready"
    assert read(FIRST)["state"] == "ready"


def test_a_job_that_is_stopped_stops_its_import(directory, job):
    number = directory.take("one", "csv", [FIRST.encode()], job)
    job.end("stopped")
    directory.read(number)
    assert directory.latest_import()["state"] == "dropped"


def test_a_stop_is_heard_between_batches(directory, job):
    rows = "".join(f"p{k},N,,\n" for k in range(30_000))
    number = directory.take("many", "csv", [HEAD.encode(), rows.encode()], job)
    found = []

    def look():
        """The stop comes once a batch has been read, however slow the machine is."""
        if not found and directory.latest_import()["rows_read"]:
            found.append(1)
            directory.drop(number)

    with while_wanted(lambda: not look()):
        directory.read(number)
    latest = directory.latest_import()
    assert latest["state"] == "dropped" and 0 < latest["rows_read"] < 30_000 and found
    assert Jobs(directory.database).job(job.id)["state"] == "stopped"
    assert pieces(directory) == 0


def pieces(directory):
    with directory.database.connection() as connection:
        return connection.execute("SELECT count(*) AS n FROM import_pieces").fetchone()["n"]


def test_an_import_that_is_read_twice_is_read_once(directory, read):
    found = read(FIRST)
    assert pieces(directory) == 2
    directory.read(found["id"])
    assert directory.latest_import() == found
    directory.claim(found["id"])
    # A worker that was killed after its work is done again by another.
    directory.apply(found["id"])
    directory.apply(found["id"])
    directory.read(found["id"])
    assert directory.latest_import()["state"] == "applied"
    assert directory.summary()["people"] == 3 and pieces(directory) == 0


def test_one_who_is_told_to_end_leaves_the_rest_to_another(directory):
    rows = "".join(f"p{k},N,,\n" for k in range(30_000))
    number = directory.take("many", "csv", [HEAD.encode(), rows.encode()])
    with while_wanted(lambda: False), pytest.raises(NotWantedError):
        directory.read(number)
    assert directory.latest_import()["state"] == "reading"
    directory.read(number)
    latest = directory.latest_import()
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] == 30_000


def test_whoever_was_there_before_keeps_nothing(directory):
    """A database that was restarted lets another in while the first still reads."""
    rows = "".join(f"p{k},N,,\n" for k in range(30_000))
    number = directory.take("many", "csv", [HEAD.encode(), rows.encode()])
    looks = []

    def another():
        if not looks:
            looks.append(directory._begin(number, "reading"))
        return True

    with while_wanted(another), pytest.raises(NotWantedError, match="another works on this"):
        directory.read(number)
    assert directory.latest_import()["state"] == "reading"
    directory.read(number)
    latest = directory.latest_import()
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] == 30_000
    assert latest["preview"]["faults"] == []


def test_what_a_crash_of_the_database_took_is_read_again(directory, read):
    found = read(FIRST)
    with directory.connection() as connection:
        connection.execute("TRUNCATE import_people, import_groups, import_members, import_faults")
    directory.claim(found["id"])
    directory.apply(found["id"])
    assert directory.latest_import()["state"] == "applied"
    assert directory.summary()["people"] == 3


def test_people_are_told_apart_by_exactly_their_groups(directory, take):
    take(HEAD + "p1,A,,a;b\np2,B,,a\np3,C,,a;b;c\np4,D,,c\n")
    classes = {tuple(c["groups"]): c["people"] for c in directory.classes(["a", "b"])}
    assert classes == {("a",): 1, ("a", "b"): 2}
