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


def settled(client, plan=1):
    """The newest import of a plan's directory once a worker has done what there is to do."""
    database = client.application.extensions["database"]
    with Holder(database) as holder:
        for job in Jobs(database).jobs():
            help_with(database, holder.number, job["id"])
    return client.get(f"/api/directory/import?plan={plan}").json["latest"]


def send(client, text, form="csv", plan=1):
    data = text if isinstance(text, bytes) else text.encode()
    query = f"plan={plan}&format={form}&name=people.csv&owner=page"
    return client.post(f"/api/directory/import?{query}", data=data)
