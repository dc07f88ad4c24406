"""Imports of the directory over HTTP."""

from tests.core.plans import document
from tests.web.asking import body, send, settled


def test_a_file_is_read_previewed_and_taken(client, stored):
    assert client.get("/api/directory/import?plan=1").json == {"latest": None}
    assert send(client, "key,name,mail,groups\np1,Ann,,a\n").status_code == 202
    latest = settled(client)
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] == 1
    assert client.post(f"/api/directory/import/{latest['id']}/apply").status_code == 202
    assert settled(client)["state"] == "applied"
    assert client.get("/api/directory?plan=1").json == {
        "id": 1,
        "people": 1,
        "in_none": 0,
        "in_several": 0,
        "groups": [{"key": "a", "name": "a", "people": 1, "holds": []}],
    }
    plan = document()
    plan["groups"][0]["demand"]["follows"] = "a"
    was = plan["groups"][0]["demand"]["people"]
    behind = client.post("/api/directory/behind?plan=1", json={"plan": plan}).json["behind"]
    name = plan["groups"][0]["id"]
    assert behind == [{"group": name, "follows": "a", "was": was, "now": 1}]
    taken = client.post("/api/directory/take?plan=1", json={"plan": plan}).json["plan"]
    assert taken["groups"][0]["demand"]["people"] == 1
    assert client.post("/api/directory/behind?plan=1", json={"plan": taken}).json == {"behind": []}
    owners = {job["owner"] for job in client.get("/api/jobs").json["jobs"]}
    assert owners == {"page"}  # who had it read has it applied
    again = client.post(f"/api/directory/import/{latest['id']}/apply")
    assert again.status_code == 409 and again.json["remedy"]


def test_the_stand_in_is_asked(client, stored):
    assert client.post("/api/directory/stand-in?plan=1", json={"day": 0}).status_code == 202
    latest = settled(client)
    assert latest["state"] == "ready" and latest["preview"]["people"]["added"] > 2000
    client.post(f"/api/directory/import/{latest['id']}/drop")
    assert settled(client)["state"] == "dropped"


def test_formats_that_are_not_known_and_imports_that_are_left(client, stored):
    assert send(client, "x", "xls").status_code == 422
    assert send(client, "key,name,mail,groups\n").status_code == 202
    assert send(client, "key,name,mail,groups\n").status_code == 409
    (job,) = client.get("/api/jobs").json["jobs"]
    assert (job["kind"], job["title"], job["state"]) == ("import", "Read people.csv", "waiting")
    client.post(f"/api/jobs/{job['id']}/stop")
    assert client.get("/api/directory/import?plan=1").json["latest"]["state"] == "dropped"
    assert send(client, "key,name,mail,groups\np1,Ann,,a\n").status_code == 202
    assert settled(client)["state"] == "ready"


def test_a_file_that_cannot_be_read_fails_its_job(client, stored):
    send(client, b"\xff\xfe\x00", "ldif")
    latest = settled(client)
    (job,) = client.get("/api/jobs").json["jobs"]
    assert latest["state"] == job["state"] == "failed"
    assert job["problem"] == latest["problem"] != ""


def test_a_plan_sees_nobody_of_another(client, stored):
    """Each has people of its own, until a planner shares them by choice."""
    other = client.post("/api/plans", json=body(document(name="Other"))).json["id"]
    send(client, "key,name,mail,groups\np1,Ann,,a\n")
    client.post(f"/api/directory/import/{settled(client)['id']}/apply")
    settled(client)
    nothing = {"id": None, "people": 0, "in_none": 0, "in_several": 0, "groups": []}
    assert client.get(f"/api/directory?plan={other}").json == nothing
    assert client.get(f"/api/directory/import?plan={other}").json == {"latest": None}
    plan = document()
    plan["groups"][0]["demand"]["follows"] = "a"
    asked = {"plan": plan}
    assert client.post(f"/api/directory/behind?plan={other}", json=asked).json == {"behind": []}
    same = client.post(f"/api/directory/take?plan={other}", json=asked).json["plan"]
    assert same["groups"][0]["demand"]["people"] == plan["groups"][0]["demand"]["people"]

    # Both read a file at the same time, each for itself.
    assert send(client, "key,name,mail,groups\np1,Ann,,a\np2,Ben,,a\n").status_code == 202
    assert send(client, "key,name,mail,groups\nq1,Cy,,b\n", plan=other).status_code == 202
    client.post(f"/api/directory/import/{settled(client, other)['id']}/apply")
    assert settled(client, other)["state"] == "applied"
    assert settled(client)["state"] == "ready"
    client.post(f"/api/directory/import/{settled(client)['id']}/apply")
    settled(client)
    assert client.get("/api/directory?plan=1").json["people"] == 2
    assert client.get("/api/directory/all").json == {
        "directories": [
            {"id": 2, "name": "Other", "people": 1, "plans": ["Other"]},
            {"id": 1, "name": "Small", "people": 2, "plans": ["Small"]},
        ]
    }
    given = client.put(f"/api/directory?plan={other}", json={"directory": 1}).json
    assert [each["plans"] for each in given["directories"]] == [[], ["Other", "Small"]]
    assert client.get(f"/api/directory?plan={other}").json["people"] == 2
    client.put(f"/api/directory?plan={other}", json={"directory": None})
    assert client.get(f"/api/directory?plan={other}").json == nothing


def test_a_copy_shares_its_people_and_strangers_are_told(client, stored):
    send(client, "key,name,mail,groups\np1,Ann,,a\n")
    copied = client.post("/api/plans/1/copy", json={"name": "Copy", "author": "ana"}).json["id"]
    assert client.get(f"/api/directory?plan={copied}").json["id"] == 1
    missing = client.put("/api/directory?plan=1", json={"directory": 77})
    assert (missing.status_code, missing.json["type"]) == (404, "/problems/no-such-directory")
    for answer in (
        client.get("/api/directory?plan=77"),
        client.put("/api/directory?plan=77", json={"directory": 1}),
        send(client, "x", plan=77),
    ):
        assert (answer.status_code, answer.json["type"]) == (404, "/problems/no-such-plan")
    assert client.get("/api/directory").status_code == 422
