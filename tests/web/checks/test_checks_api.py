"""Checks over HTTP."""

from tests.web.asking import ask_demo


class TestChecks:
    def test_the_demos_mistakes_are_found(self, client):
        got = ask_demo(client, "checks", tab="c", edit=1).get_json()
        found = {each["check"]: each for each in got["findings"]}
        short = found["too-few-hosts"]
        assert short["where"] == "pool 'metering' hosts: standing" and short["does"]["value"] > 32
        assert found["app-not-in-image"]["family"] == "people"
        assert [family["found"] for family in got["families"]] == [
            sum(each["family"] == family["id"] for each in got["findings"])
            for family in got["families"]
        ]

    def test_a_checked_nothing_has_nothing_to_find(self, client):
        plan = {"name": "Empty", "week_of": "2027-03-01"}
        got = client.post("/api/checks", json={"plan": plan}).get_json()
        assert got["findings"] == []
