"""The desk: who gets a place, who is told to come again, and work that nobody waits for."""

import json
import threading
import time

import pytest

from idle_harbor.core.base.stopping import go_on
from idle_harbor.core.errors import NotWantedError
from idle_harbor.web.server import THREADS
from idle_harbor.web.shared.desk import MOST_WAITING, Busy, Desk, Superseded, Turns
from tests.core.plans import document


def always() -> bool:
    return True


def until(condition, seconds=10.0):
    end = time.monotonic() + seconds
    while not condition():
        assert time.monotonic() < end, "it did not come about"
        time.sleep(0.01)


class Crowd:
    """Threads that hold a place until they are let go."""

    def __init__(self, turns: Turns) -> None:
        self.turns, self.order, self.refused, self.leave = turns, [], [], threading.Event()
        self.threads = []

    def come(self, name, wanted=always, urgent=False):
        def hold():
            try:
                with self.turns.turn(wanted, urgent=urgent):
                    self.order.append(name)
                    self.leave.wait(10)
            except (Busy, Superseded) as error:
                self.refused.append((name, type(error)))

        self.threads.append(threading.Thread(target=hold))
        self.threads[-1].start()

    def end(self):
        self.leave.set()
        for thread in self.threads:
            thread.join(10)


def test_places_are_given_in_the_order_of_asking_and_a_full_line_says_so():
    crowd = Crowd(Turns(2, 3))
    for name in "ab":
        crowd.come(name)
        until(lambda name=name: name in crowd.order)
    for place, name in enumerate("cde", start=1):
        crowd.come(name)
        until(lambda place=place: crowd.turns.waiting == place)
    crowd.come("f")
    until(lambda: crowd.refused == [("f", Busy)])
    crowd.end()
    assert crowd.order == list("abcde")


def test_who_is_no_longer_wanted_leaves_the_line_at_once():
    crowd = Crowd(Turns(1, 3))
    crowd.come("a")
    until(lambda: crowd.order == ["a"])
    wanted = threading.Event()
    wanted.set()
    crowd.come("b", wanted.is_set)
    until(lambda: crowd.turns.waiting == 1)
    wanted.clear()
    until(lambda: crowd.refused == [("b", Superseded)], 2)
    assert crowd.turns.waiting == 0
    crowd.end()


def test_urgent_work_does_not_wait_for_what_is_begun_nor_stand_behind_it():
    crowd = Crowd(Turns(1, 4))
    crowd.come("a")
    until(lambda: crowd.order == ["a"])
    crowd.come("b")
    until(lambda: crowd.turns.waiting == 1)
    crowd.come("now", urgent=True)
    until(lambda: crowd.order == ["a", "now"])
    crowd.come("next", urgent=True)
    until(lambda: crowd.turns.waiting == 2)
    crowd.end()
    assert sorted(crowd.order[2:]) == ["b", "next"]


def test_a_full_line_of_slow_work_shuts_no_urgent_work_out():
    crowd = Crowd(Turns(1, 2))
    for name in "abc":
        crowd.come(name)
    until(lambda: crowd.turns.waiting == 2)
    crowd.come("late")
    until(lambda: crowd.refused == [("late", Busy)])
    crowd.come("now", urgent=True)
    until(lambda: "now" in crowd.order)
    crowd.end()


def test_other_work_gives_way_to_urgent_work_and_goes_on_after_it():
    desk = Desk()
    steps, begun, leave = [], threading.Event(), threading.Event()

    def patient():
        for _ in range(400):
            go_on()
            steps.append(time.monotonic())
            begun.set()
            time.sleep(0.005)

    def urgent():
        now = len(steps)
        leave.wait(0.3)
        return len(steps) - now

    thread = threading.Thread(target=lambda: desk.run(always, patient))
    thread.start()
    begun.wait(5)
    assert desk.run(always, urgent, urgent=True) <= 2
    now = len(steps)
    until(lambda: len(steps) > now + 5)
    thread.join(10)
    assert len(steps) == 400


def test_nobody_gives_way_for_ever():
    turns = Turns(1, 4)
    with turns.turn(always, urgent=True):
        assert turns.give_way(always)
        assert not turns.give_way(lambda: False)


def test_work_is_given_up_once_a_newer_edit_has_come():
    desk = Desk()
    desk.announce("t", 1)
    begun = threading.Event()
    ended = []

    def work():
        begun.set()
        while True:
            go_on()
            time.sleep(0.01)

    def ask():
        try:
            desk.run(lambda: desk.wanted("t", 1), work)
        except NotWantedError:
            ended.append(time.monotonic())

    thread = threading.Thread(target=ask)
    thread.start()
    begun.wait(5)
    asked = time.monotonic()
    desk.announce("t", 2)
    thread.join(5)
    assert ended[0] - asked < 1.0
    assert not desk.wanted("t", 1) and desk.wanted("t", 2) and desk.wanted("", 0)


def test_threads_are_left_for_small_questions():
    assert 2 * (MOST_WAITING + 2) + 4 <= THREADS


def test_a_full_desk_is_a_problem_with_a_time_to_come_again(client, monkeypatch):
    def full(*_, **_more):
        raise Busy

    monkeypatch.setattr(Desk, "run", full)
    got = client.post("/api/pools", json={"plan": document()})
    assert got.status_code == 503
    assert got.json["type"] == "/problems/busy" and got.headers["Retry-After"] == "1"


@pytest.mark.parametrize("which", ["pools", "checks"])
def test_long_answers_come_in_parts_and_end_as_the_whole(client, which):
    plan = document()
    plan["pools"] += [plan["pools"][0] | {"id": name} for name in ("other", "third")]
    body = {"plan": plan, "edit": 3, "tab": "p"}
    whole = client.post(f"/api/{which}", json=body).json
    got = client.post(f"/api/{which}/parts", json=body)
    assert got.mimetype == "application/x-ndjson"
    parts = [json.loads(line) for line in got.text.splitlines()]
    assert [part["done"] for part in parts] == list(range(1, parts[0]["of"] + 1))
    answer = parts[-1]["answer"]
    assert answer == {name: whole[name] for name in answer}
    if which == "pools":
        assert [part["rows"][0]["id"] for part in parts[:-1]] == ["main", "other"]
        assert parts[0]["rows"][0]["figures"] == answer["pools"][0]["figures"]
        assert [row["id"] for row in answer["pools"]] == ["main", "other", "third"]


def test_parts_end_once_the_page_has_gone(client):
    """A newer edit comes after the first line: no last line is sent."""
    body = {"plan": document(), "edit": 3, "tab": "p"}
    got = client.post("/api/checks/parts", json=body)
    lines = got.response
    first = json.loads(next(iter(lines)))
    assert first["done"] == 1
    client.application.extensions["desk"].announce("checks p", 4)
    assert list(lines) == []


def test_all_pools_of_a_request_are_bounded_together(client):
    """200 pools of 30,000 people each: 12 million people's spells of two weeks are too many."""
    pool = document()["pools"][0]
    pools = [pool | {"id": f"p{k}"} for k in range(200)]
    groups = document()["groups"]
    groups[0]["demand"]["people"] = 60_000
    uses = [{"group": "people", "pool": f"p{k}"} for k in range(200)]
    many = document(groups=groups, pools=pools, access=uses)
    for path in ("pools", "checks", "pools/parts", "checks/parts"):
        got = client.post(f"/api/{path}", json={"plan": many})
        assert got.status_code == 422, path
        assert "all 200 pools" in got.json["detail"]
