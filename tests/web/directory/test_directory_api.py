"""Imports of the directory over HTTP."""

from tests.core.plans import document
from tests.web.asking import send, settled


def test_a_file_is_read_previewed_and_taken(client):
    assert client.get("/api/directory/import").json == {"latest": None}
    assert send(client, "key,name,mail,groups\np1,Ann,,a\n").status_code == 202
    latest = settled(client)
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] == 1
    assert client.post(f"/api/directory/import/{latest['id']}/apply").status_code == 202
    assert settled(client)["state"] == "applied"
    assert client.get("/api/directory").json == {
        "people": 1,
        "in_none": 0,
        "in_several": 0,
        "groups": [{"key": "a", "name": "a", "people": 1, "holds": []}],
    }
    plan = document()
    plan["groups"][0]["demand"]["follows"] = "a"
    was = plan["groups"][0]["demand"]["people"]
    behind = client.post("/api/directory/behind", json={"plan": plan}).json["behind"]
    name = plan["groups"][0]["id"]
    assert behind == [{"group": name, "follows": "a", "was": was, "now": 1}]
    taken = client.post("/api/directory/take", json={"plan": plan}).json["plan"]
    assert taken["groups"][0]["demand"]["people"] == 1
    assert client.post("/api/directory/behind", json={"plan": taken}).json == {"behind": []}
    owners = {job["owner"] for job in client.get("/api/jobs").json["jobs"]}
    assert owners == {"page"}  # who had it read has it applied
    again = client.post(f"/api/directory/import/{latest['id']}/apply")
    assert again.status_code == 409 and again.json["remedy"]


def test_the_stand_in_is_asked(client):
    assert client.post("/api/directory/stand-in", json={"day": 0}).status_code == 202
    latest = settled(client)
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] > 2000
    client.post(f"/api/directory/import/{latest['id']}/drop")
    assert settled(client)["state"] == "dropped"


def test_formats_that_are_not_known_and_imports_that_are_left(client):
    assert send(client, "x", "xls").status_code == 422
    assert send(client, "key,name,mail,groups\n").status_code == 202
    assert send(client, "key,name,mail,groups\n").status_code == 409
    (job,) = client.get("/api/jobs").json["jobs"]
    assert (job["kind"], job["title"], job["state"]) == ("import", "Read people.csv", "waiting")
    client.post(f"/api/jobs/{job['id']}/stop")
    assert client.get("/api/directory/import").json["latest"]["state"] == "dropped"
    assert send(client, "key,name,mail,groups\np1,Ann,,a\n").status_code == 202
    assert settled(client)["state"] == "ready"


def test_a_file_that_cannot_be_read_fails_its_job(client):
    send(client, b"\xff\xfe\x00", "ldif")
    latest = settled(client)
    (job,) = client.get("/api/jobs").json["jobs"]
    assert latest["state"] == job["state"] == "failed"
    assert job["problem"] == latest["problem"] != ""
