"""Directory files: CSV, LDIF and SCIM, whole, wrong and cut off."""

import base64
import io
import json
import tempfile
import tracemalloc

import pytest

from idle_harbor.demo.directory import demo_directory
from idle_harbor.formats.directory import ldif_people
from idle_harbor.formats.directory.csv_people import read_csv, write_csv
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
        ("group a", "p1"),
        ("group b", "p1"),
    ]


def test_csv_wrong_rows_are_named_and_reading_goes_on():
    found = rows(read_csv, "key,name,mail,groups\n,Ann,,\np2,,,\np3,Cy\np4,Di,,\n" + "x" * 401)
    wrong = of(found, WrongRow)
    assert [(w.line, w.what) for w in wrong] == [
        (2, "the key is empty"),
        (3, "the name is empty"),
        (4, "the row has 2 cells, the first line has 4"),
        (6, "the row has 1 cells, the first line has 4"),
    ]
    assert [p.key for p in of(found, PersonRow)] == ["p4"]


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"", "empty"),
        (b"key,name\np1,Ann\n", "column mail is missing"),
        ("key,name,mail,groups\np1,Zoë,,\n".encode("latin-1"), "line 2 is not UTF-8"),
        ("key,name,mail,groups\n".encode("utf-16"), "UTF-16"),
        (b'key,name,mail,groups\np1,"Ann,,\n', "cut off"),
    ],
)
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
        (4, "p1", "AnnMoor"),
        (11, "p2", "Zoë"),
    ]
    assert [g.key for g in of(found, GroupRow)] == ["a"]
    people = {p.ref for p in of(found, PersonRow)}
    members = [m.member for m in of(found, MemberRow)]
    assert members[:2] == sorted(people) and members[2] == "cn=b,ou=groups,dc=x"
    assert of(found, WrongRow) == []


def test_ldif_line_ends_of_other_systems():
    text = LDIF.format(zoe="Wm/Dqw==").replace("\n", "\r\n")
    assert [p.name for p in of(rows(read_ldif, text), PersonRow)] == ["AnnMoor", "Zoë"]


def test_ldif_records_that_cannot_be_read_are_wrong_rows():
    text = (
        "dn: uid=p1,dc=x\nobjectClass: person\nuid: p1\n\n"
        "dn: uid=p2,dc=x\nchangetype: modify\n\n"
        "dn: uid=p3,dc=x\nobjectClass: person\ncn:: ///\n\n"
        "dn: uid=p4,dc=x\nobjectClass: person\nuid:: /w==\n\n"
        "dn: uid=p5,dc=x\nobjectClass: person\nui"
    )
    found = rows(read_ldif, text)
    assert [w.line for w in of(found, WrongRow)] == [5, 8, 12, 16]
    assert [p.key for p in of(found, PersonRow)] == ["p1"]


@pytest.mark.parametrize("data", ["", "version: 1\n", "key,name\n"])
def test_ldif_files_that_are_none(data):
    with pytest.raises(NotReadable):
        rows(read_ldif, data)


USER = "urn:ietf:params:scim:schemas:core:2.0:User"
GROUP = "urn:ietf:params:scim:schemas:core:2.0:Group"
ANN = {
    "schemas": [USER],
    "id": "1",
    "userName": "p1",
    "displayName": "Ann",
    "emails": [{"value": "a@x.example"}, {"value": "ann@x.example", "primary": True}],
}
CREW = {
    "schemas": [GROUP],
    "id": "9",
    "displayName": "crew",
    "members": [{"value": "1", "type": "User"}],
}


@pytest.mark.parametrize(
    "text",
    [
        json.dumps({"totalResults": 2, "Resources": [ANN, CREW]}),
        json.dumps([ANN, CREW], indent=2),
        json.dumps(ANN) + "\n" + json.dumps(CREW) + "\n",
    ],
)
def test_scim_as_a_list_response_an_array_or_lines(text):
    found = rows(read_scim, text)
    assert [(p.ref, p.key, p.name, p.mail) for p in of(found, PersonRow)] == [
        ("1", "p1", "Ann", "ann@x.example")
    ]
    assert [(m.group, m.member) for m in of(found, MemberRow)] == [("9", "1")]
    assert of(found, WrongRow) == []


def test_scim_resources_that_do_not_keep_to_their_schema():
    text = "\n".join(
        [
            json.dumps({**ANN, "userName": 5}),
            json.dumps({"schemas": ["x"]}),
            '{"schemas"',
            json.dumps({**ANN, "userName": " "}),
        ]
    )
    found = rows(read_scim, text)
    wrong = of(found, WrongRow)
    assert [w.line for w in wrong] == [1, 2, 3, 4]
    assert wrong[0].what.startswith("userName") and "empty" in wrong[3].what


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no resource|not JSON"),
        ('{"Resources": [{"schemas"', "cut off"),
        ('{"totalResults": 3, "Resources": []}', "0 of 3"),
        ("[1, 2", "cut off"),
        ('"text"', "neither"),
    ],
)
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


def peak_of(reader, file) -> int:
    """Bytes of Python's memory at most while a file is read."""
    tracemalloc.start()
    try:
        for _ in reader(file):
            pass
        return tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()


def huge_group(form: str, members: int):
    """A file whose one group has so many members, on disk."""
    file = tempfile.TemporaryFile()  # noqa: SIM115
    group = '"schemas":["urn:ietf:params:scim:schemas:core:2.0:Group"],"displayName":"g"'
    if form == "scim":
        file.write(b'{"schemas":[],"Resources":[{' + group.encode() + b',"members":[')
        file.writelines(b'{"value":"p%07d"},' % k for k in range(members))
        file.write(b'{"value":"last"}],"id":"1"}]}')
    elif form == "ldif":
        file.write(b"dn: cn=g,dc=x\nobjectClass: groupOfNames\ncn: g\n")
        file.writelines(b"member: uid=p%07d,dc=x\n" % k for k in range(members))
        file.write(b"member: last\n")
    else:
        file.write(b"key,name,mail,groups\n")
        file.writelines(b"p%07d,n,,g\n" % k for k in range(members))
        file.write(b"last,n,,g\n")
    file.seek(0)
    return file


@pytest.mark.parametrize(
    ("form", "reader"), [("scim", read_scim), ("ldif", read_ldif), ("csv", read_csv)]
)
def test_a_group_of_very_many_is_never_held_whole(form, reader):
    """What a reader holds does not grow with a file: ten times the members, the same memory."""
    peaks = []
    for members in (2_000, 20_000):
        with huge_group(form, members) as file:
            found = rows_count(reader(file))
            assert found == (members + 1, {"g", "1", "cn=g,dc=x", "group g"} & found[1])
            file.seek(0)
            peaks.append(peak_of(reader, file))
    assert peaks[1] < 6_000_000
    assert peaks[1] < peaks[0] + 2_000_000


def rows_count(found):
    count, groups = 0, set()
    for row in found:
        assert not isinstance(row, WrongRow), row
        if isinstance(row, MemberRow):
            count += 1
            groups.add(row.group)
    return count, groups


def test_folding_is_read_in_proportion_to_its_length(monkeypatch):
    """A value over 12,500 lines is joined once: its bytes are copied twice, not once a line."""
    whole = b"dn: uid=a,dc=x\nobjectClass: person\nuid: a\ncn: " + b"\n x" * 12_500 + b"\n"
    assert len(of(rows(read_ldif, whole), WrongRow)) == 1  # a name of 12,500 characters
    copied = 0
    joining = ldif_people._unfolded

    def counted(file):
        nonlocal copied
        for line, text in joining(file):
            copied += len(text)
            yield line, text

    monkeypatch.setattr(ldif_people, "_unfolded", counted)
    rows(read_ldif, whole)
    assert copied < len(whole)


@pytest.mark.parametrize(
    ("reader", "data", "says"),
    [
        (read_ldif, b"dn: a\ncn: " + b"\n x" * 600_000, "folded over more than"),
        (read_ldif, b"dn: a\n" + b"x" * 1_100_000, "break it up"),
        (read_csv, b"key,name,mail,groups\n" + b"x" * 1_100_000, "break it up"),
        (read_scim, b'{"schemas": []}\n{"a":"' + b"x" * 8_100_000, "break it up"),
    ],
)
def test_lines_have_an_end(reader, data, says):
    with pytest.raises(NotReadable, match=says):
        rows(reader, data)


def test_what_no_schema_allows_is_a_wrong_row():
    lines = [
        '{"schemas":null}',
        "7",
        '{"schemas":["' + USER + '"],"id":1,"userName":[1]}',
        '{"schemas":["' + GROUP + '"],"id":"g","displayName":"g","members":[{"value":1}]}',
        '{"a":"\\ud800"}',
        "[" * 5_000,
        "1" * 5_000,
    ]
    good = json.dumps({"schemas": [USER], "id": "1", "userName": "ann"})
    found = rows(read_scim, "\n".join([good, *lines]))
    assert [w.line for w in of(found, WrongRow)] == list(range(2, 9))
    assert len(of(found, PersonRow)) == 1
    deep = '{"Resources":[{"a":' + "[" * 60 + "]" * 60 + "}," + good + "]}"
    found = rows(read_scim, deep)
    assert [w.what for w in of(found, WrongRow)] == ["it nests deeper than 40 levels"]
    assert len(of(found, PersonRow)) == 1


def test_a_groups_name_is_bounded_before_anything_is_applied():
    found = rows(read_csv, "key,name,mail,groups\np1,Ann,," + "g" * 9_000 + "\n")
    assert [w.what for w in of(found, WrongRow)] == ["the name of the group has 9,000 characters"]
    assert of(found, GroupRow) == []


def test_names_are_no_formulas_when_written_and_come_back():
    people = [
        PersonRow(1, "p", "=1+1", "=cmd|' /C calc'!A0", "@x"),
        PersonRow(2, "q", "-5", "+", ""),
    ]
    out = io.StringIO()
    write_csv(out, people, {"=1+1": ["-g"]})
    lines = out.getvalue().splitlines()[1:]
    assert lines == ["'=1+1,'=cmd|' /C calc'!A0,'@x,'-g", "-5,'+,,"]
    found = of(rows(read_csv, out.getvalue()), PersonRow)
    assert [(p.key, p.name, p.mail) for p in found] == [(p.key, p.name, p.mail) for p in people]


def test_a_record_whose_name_holds_a_zero_byte_is_a_wrong_row():
    person = b"dn: uid=ann,ou=\x00people,dc=x\nobjectClass: person\nuid: ann\ncn: Ann\n"
    group = b"dn: cn=g,\x00dc=x\nobjectClass: groupOfNames\ncn: g\nmember: x\n"
    found = rows(read_ldif, person + b"\n" + group)
    assert [type(row) for row in found] == [WrongRow, WrongRow]
