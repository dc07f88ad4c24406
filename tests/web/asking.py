"""How the API's tests ask."""

from __future__ import annotations

import time

from idle_harbor.demo.scenario import demo_plan
from tests.core.plans import document


def body(plan=None, words="", author="ana"):
    return {"plan": plan or document(), "words": words, "author": author}


def simulate(client, kind="week", plan=None, pool="main", **extra):
    return client.post(
        f"/api/simulations/{kind}", json={"plan": plan or document(), "pool": pool, **extra}
    )


def ask_demo(client, path, **body):
    return client.post(f"/api/{path}", json={"plan": demo_plan(), **body})


def settled(client):
    for _ in range(200):
        latest = client.get("/api/directory/import").json["latest"]
        if latest["state"] not in ("reading", "judging", "applying"):
            return latest
        time.sleep(0.05)
    raise AssertionError(latest)


def send(client, text, form="csv"):
    data = text if isinstance(text, bytes) else text.encode()
    return client.post(f"/api/directory/import?format={form}&name=people.csv", data=data)
