"""Every pool side by side and drills over HTTP."""

from decimal import Decimal

import pytest

from tests.web.asking import ask_demo


def test_every_pool_of_the_demo_is_there_and_simulates(client):
    got = ask_demo(client, "pools").get_json()
    rows = {row["id"]: row for row in got["pools"]}
    assert set(rows) == {"office", "line", "field", "counters", "control", "drawings", "metering"}
    assert {row["kind"] for row in rows.values()} == {"shared", "lent", "dedicated"}
    assert all(row["figures"]["sessions"]["peak"]["mean"] > 0 for row in rows.values())
    months = [Decimal(row["figures"]["cost"]["month"]) for row in rows.values()]
    assert Decimal(got["month"]) == sum(months)
    assert got["credit_months"] == pytest.approx(25_000 / float(got["month"]), abs=0.006)
    assert rows["metering"]["findings"] >= 1


class TestDrill:
    def test_a_zone_is_lost_on_a_tuesday(self, client):
        got = ask_demo(
            client, "pools/drill", pool="office", day=1, minute=11 * 60, zone=0
        ).get_json()
        assert got["failed"] == 28 and got["interrupted"] > 100 and got["most_waiting"] > 0
        assert got["drilled"]["comfort"]["mean"] < got["calm"]["comfort"]["mean"]

    def test_some_hosts_at_night_hurt_nobody(self, client):
        got = ask_demo(client, "pools/drill", pool="field", day=6, minute=120, hosts=2).get_json()
        assert (got["failed"], got["interrupted"], got["most_waiting"]) == (2, 0, 0)

    def test_hosts_that_start_meanwhile_may_take_nobody(self, client):
        asked = {"pool": "office", "day": 1, "minute": 7 * 60, "minutes": 240, "hosts": 30}
        got = ask_demo(client, "pools/drill", kind="agents silent", **asked).get_json()
        assert 0 < got["failed"] <= 30 and got["interrupted"] == 0
        assert got["told"].startswith("hosts were started meanwhile")
        # On a Sunday night no host starts, though many do in that week.
        asked |= {"day": 6, "minute": 0, "minutes": 60}
        calm = ask_demo(client, "pools/drill", kind="agents silent", **asked).get_json()
        assert calm["failed"] == 0
        assert got["most_waiting"] > 0
        assert got["drilled"]["refused"]["mean"] > got["calm"]["refused"]["mean"]

    def test_a_zone_that_is_not_there(self, client):
        answer = ask_demo(client, "pools/drill", pool="office", day=1, minute=0, zone=3)
        assert (
            answer.status_code == 422
            and "3 zones, no 4" in answer.get_json()["faults"][0]["message"]
        )
