"""Imports of the directory over HTTP."""

from __future__ import annotations

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
        "people": 1, "in_none": 0, "in_several": 0,
        "groups": [{"key": "a", "name": "a", "people": 1, "holds": []}]}  # fmt: skip
    plan = document()
    plan["groups"][0]["demand"]["follows"] = "a"
    was = plan["groups"][0]["demand"]["people"]
    behind = client.post("/api/directory/behind", json={"plan": plan}).json["behind"]
    name = plan["groups"][0]["id"]
    assert behind == [{"group": name, "follows": "a", "was": was, "now": 1}]
    taken = client.post("/api/directory/take", json={"plan": plan}).json["plan"]
    assert taken["groups"][0]["demand"]["people"] == 1
    assert client.post("/api/directory/behind", json={"plan": taken}).json == {"behind": []}
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
    held = client.application.extensions["database"]
    from idle_harbor.store.directory import Directory

    Directory(held).begin("left by a server that was killed", "csv", 1).end()
    assert settled(client)["state"] == "failed"
    assert send(client, "key,name,mail,groups\np1,Ann,,a\n").status_code == 202
    assert settled(client)["state"] == "ready"
