"""How the API's tests ask."""

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.jobs.work import help_with
from idle_harbor.store.jobs import Holder, Jobs
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
    """The newest import once a worker has done what there is to do."""
    database = client.application.extensions["database"]
    with Holder(database) as holder:
        for job in Jobs(database).jobs():
            help_with(database, holder.number, job["id"])
    return client.get("/api/directory/import").json["latest"]


def send(client, text, form="csv"):
    data = text if isinstance(text, bytes) else text.encode()
    return client.post(f"/api/directory/import?format={form}&name=people.csv&owner=page", data=data)
