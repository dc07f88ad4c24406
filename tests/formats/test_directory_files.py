"""Directory files: CSV, LDIF and SCIM, whole, wrong and cut off."""

from __future__ import annotations

import base64
import io
import json

import pytest

from idle_harbor.demo.directory import demo_directory
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


def rows(reader, data):
    return list(reader(io.BytesIO(data if isinstance(data, bytes) else data.encode())))


def of(found, kind):
    return [row for row in found if isinstance(row, kind)]


def test_csv_rows_with_quotes_and_groups():
    found = rows(read_csv, 'groups,key,name,mail\n"a; b",p1,"Moor, Ann",ann@x\n,p2,Zoë,\n')
    assert of(found, PersonRow) == [
        PersonRow(2, "p1", "p1", "Moor, Ann", "ann@x"),
        PersonRow(3, "p2", "p2", "Zoë", ""),
    ]
    assert [g.key for g in of(found, GroupRow)] == ["a", "b"]
    assert [(m.group, m.member) for m in of(found, MemberRow)] == [
        ("group a", "p1"), ("group b", "p1")]  # fmt: skip


def test_csv_wrong_rows_are_named_and_reading_goes_on():
    found = rows(read_csv, "key,name,mail,groups\n,Ann,,\np2,,,\np3,Cy\np4,Di,,\n" + "x" * 401)
    wrong = of(found, WrongRow)
    assert [(w.line, w.what) for w in wrong] == [
        (2, "the key is empty"), (3, "the name is empty"),
        (4, "the row has 2 cells, the first line has 4"),
        (6, "the row has 1 cells, the first line has 4")]  # fmt: skip
    assert [p.key for p in of(found, PersonRow)] == ["p4"]


@pytest.mark.parametrize(("data", "says"), [
    (b"", "empty"),
    (b"key,name\np1,Ann\n", "column mail is missing"),
    ("key,name,mail,groups\np1,Zoë,,\n".encode("latin-1"), "line 2 is not UTF-8"),
    ("key,name,mail,groups\n".encode("utf-16"), "UTF-16"),
    (b'key,name,mail,groups\np1,"Ann,,\n', "cut off"),
])  # fmt: skip
def test_csv_files_that_cannot_be_read(data, says):
    with pytest.raises(NotReadable, match=says):
        rows(read_csv, data)


LDIF = """version: 1
# a comment

dn: uid=p1,ou=people,dc=x
objectClass: inetOrgPerson
uid: p1
cn: Ann
 Moor
mail: ann@x

dn: uid=p2,OU=people, dc=x
objectClass: person
uid: p2
cn:: {zoe}

dn: cn=a,ou=groups,dc=x
objectClass: groupOfNames
cn: a
member: uid=p1,ou=people,dc=x
member: UID=p2,ou=people,dc=x
member: cn=b,ou=groups,dc=x

dn: ou=groups,dc=x
objectClass: organizationalUnit
ou: groups
"""


def test_ldif_with_folded_lines_base64_and_other_entries():
    text = LDIF.format(zoe=base64.b64encode("Zoë".encode()).decode())
    found = rows(read_ldif, text)
    assert [(p.line, p.key, p.name) for p in of(found, PersonRow)] == [
        (4, "p1", "AnnMoor"), (11, "p2", "Zoë")]  # fmt: skip
    assert [g.key for g in of(found, GroupRow)] == ["a"]
    people = {p.ref for p in of(found, PersonRow)}
    members = [m.member for m in of(found, MemberRow)]
    assert members[:2] == sorted(people) and members[2] == "cn=b,ou=groups,dc=x"
    assert of(found, WrongRow) == []


def test_ldif_line_ends_of_other_systems():
    text = LDIF.format(zoe="Wm/Dqw==").replace("\n", "\r\n")
    assert [p.name for p in of(rows(read_ldif, text), PersonRow)] == ["AnnMoor", "Zoë"]


def test_ldif_records_that_cannot_be_read_are_wrong_rows():
    text = ("dn: uid=p1,dc=x\nobjectClass: person\nuid: p1\n\n"
            "dn: uid=p2,dc=x\nchangetype: modify\n\n"
            "dn: uid=p3,dc=x\nobjectClass: person\ncn:: ///\n\n"
            "dn: uid=p4,dc=x\nobjectClass: person\nuid:: /w==\n\n"
            "dn: uid=p5,dc=x\nobjectClass: person\nui")  # fmt: skip
    found = rows(read_ldif, text)
    assert [w.line for w in of(found, WrongRow)] == [5, 8, 12, 16]
    assert [p.key for p in of(found, PersonRow)] == ["p1"]


@pytest.mark.parametrize("data", ["", "version: 1\n", "key,name\n"])
def test_ldif_files_that_are_none(data):
    with pytest.raises(NotReadable):
        rows(read_ldif, data)


USER = "urn:ietf:params:scim:schemas:core:2.0:User"
GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group"
ANN = {"schemas": [USER], "id": "1", "userName": "p1", "displayName": "Ann",
       "emails": [{"value": "a@x.example"},
                  {"value": "ann@x.example", "primary": True}]}  # fmt: skip
CREW = {"schemas": [GROUP], "id": "9", "displayName": "crew",
        "members": [{"value": "1", "type": "User"}]}  # fmt: skip


@pytest.mark.parametrize("text", [
    json.dumps({"totalResults": 2, "Resources": [ANN, CREW]}),
    json.dumps([ANN, CREW], indent=2),
    json.dumps(ANN) + "\n" + json.dumps(CREW) + "\n",
])  # fmt: skip
def test_scim_as_a_list_response_an_array_or_lines(text):
    found = rows(read_scim, text)
    assert [(p.ref, p.key, p.name, p.mail) for p in of(found, PersonRow)] == [
        ("1", "p1", "Ann", "ann@x.example")]  # fmt: skip
    assert [(m.group, m.member) for m in of(found, MemberRow)] == [("9", "1")]
    assert of(found, WrongRow) == []


def test_scim_resources_that_do_not_keep_to_their_schema():
    text = "\n".join([json.dumps({**ANN, "userName": 5}), json.dumps({"schemas": ["x"]}),
                      '{"schemas"', json.dumps({**ANN, "userName": " "})])  # fmt: skip
    found = rows(read_scim, text)
    wrong = of(found, WrongRow)
    assert [w.line for w in wrong] == [1, 2, 3, 4]
    assert wrong[0].what.startswith("userName") and "empty" in wrong[3].what


@pytest.mark.parametrize(("text", "says"), [
    ("", "no resource|not JSON"),
    ('{"Resources": [{"schemas"', "cut off"),
    ('{"totalResults": 3, "Resources": []}', "0 of 3"),
    ("[1, 2", "cut off"),
    ('"text"', "neither"),
])  # fmt: skip
def test_scim_files_that_cannot_be_read(text, says):
    with pytest.raises(NotReadable, match=says):
        rows(read_scim, text)


def test_the_simulated_directory_says_the_same_in_every_format():
    directory = demo_directory()
    csv, ldif, scim = (
        rows(read, data)
        for read, data in (
            (read_csv, directory.as_csv(2)),
            (read_ldif, directory.as_ldif(2)),
            (read_scim, directory.as_scim(2)),
        )
    )
    people = [sorted((p.key, p.name, p.mail) for p in of(f, PersonRow)) for f in (csv, ldif, scim)]
    assert people[0] == people[1] == people[2] and len(people[0]) > 2000
    assert not any(of(f, WrongRow) for f in (csv, ldif, scim))
    assert {g.key for g in of(csv, GroupRow)} == {g.key for g in of(ldif, GroupRow)}


def test_people_join_and_leave_the_simulated_directory_as_days_go_by():
    directory = demo_directory()
    days = [{p.key for p in directory.people(day)[0]} for day in (0, 1, 2)]
    assert days[0] - days[1] and days[1] - days[0] and days[1] != days[2]
    assert {p.key for p in demo_directory().people(2)[0]} == days[2]
