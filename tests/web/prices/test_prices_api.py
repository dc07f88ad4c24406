"""Price sheets over HTTP."""

from tests.web.asking import ask_demo


class TestPrices:
    def test_out_and_in_again_changes_nothing(self, client):
        for form in ("csv", "json"):
            sheet = ask_demo(client, "prices/sheet", form=form).get_json()
            assert sheet["name"] == f"price-sheet.{form}"
            got = ask_demo(client, "prices", text=sheet["text"]).get_json()
            assert got["changes"] == []

    def test_a_changed_price_is_told(self, client):
        sheet = ask_demo(client, "prices/sheet", form="json").get_json()["text"]
        got = ask_demo(client, "prices", text=sheet.replace('"0.412"', '"0.500"')).get_json()
        assert got["changes"] == [
            {"item": "size sloop", "field": "hourly", "before": "0.412", "after": "0.500"}
        ]
        assert got["plan"]["sizes"][0]["hourly"] == "0.500"

    def test_the_feed(self, client):
        got = ask_demo(client, "prices/feed", day="2027-05-10").get_json()
        moved = {change["item"] for change in got["changes"]}
        assert "size sloop" in moved and "offer northlight sloop" in moved

    def test_a_bad_sheet(self, client):
        answer = ask_demo(client, "prices", text="item,id\nship,x\n")
        assert answer.status_code == 422 and "line 2" in answer.get_data(as_text=True)
