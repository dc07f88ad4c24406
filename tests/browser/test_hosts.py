"""Hosts, Pools and Checks as a planner uses them, in a real browser."""

import re

import pytest
from playwright.sync_api import Page, expect

from idle_harbor.demo.scenario import demo_plan
from tests.browser.looking import enter
from tests.browser.test_board import drag


@pytest.fixture
def plan(watched) -> str:
    """The path of a plan of its own, alike to the demo's."""
    return watched.own(demo_plan(), "Hosts")


def drawn(page: Page) -> None:
    expect(page.locator("main")).to_have_attribute("aria-busy", "false", timeout=20_000)


def limit(page: Page) -> int:
    return int(page.get_by_test_id("limit").get_attribute("aria-valuenow") or 0)


class TestHosts:
    def test_the_picture_says_what_binds(self, watched, plan):
        page = watched.open(f"{plan}/hosts")
        expect(page.get_by_test_id("sizing-sentence")).to_contain_text("CPU binds first")
        expect(page.get_by_test_id("curve")).to_have_count(4)
        expect(page.get_by_test_id("sizes").get_by_role("row")).to_have_count(8)
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")

    def test_the_limit_is_dragged_and_the_hosts_follow(self, watched, plan):
        page = watched.open(f"{plan}/hosts")
        post = page.get_by_test_id("limit")
        expect(post).to_have_attribute("aria-valuenow", "14")
        before = page.get_by_test_id("sizing-sentence").inner_text()
        box = post.bounding_box()
        assert box is not None
        # Its box goes on to the right with its words; the post is nine pixels in.
        drag(page, post, -90, 0, (9 / box["width"], 60))
        after = limit(page)
        assert 8 <= after < 14
        expect(page.get_by_test_id("sizing-sentence")).not_to_have_text(before)
        expect(page.get_by_test_id("state")).to_contain_text("edited")
        page.keyboard.press("Control+z")
        expect(post).to_have_attribute("aria-valuenow", "14")
        post.focus()
        page.keyboard.press("ArrowRight")
        expect(post).to_have_attribute("aria-valuenow", "15")

    def test_another_size_is_looked_at_simulated_and_taken(self, watched, plan):
        page = watched.open(f"{plan}/hosts")
        page.get_by_test_id("size-ketch").click()
        expect(page).to_have_url(re.compile("size=ketch"))
        hosts = page.get_by_test_id("simulate").inner_text()
        page.get_by_test_id("simulate").click()
        expect(page.get_by_test_id("checked")).to_contain_text("4 weeks", timeout=30_000)
        page.get_by_test_id("take").click()
        expect(page.get_by_test_id("sizes").get_by_role("row", name="in use")).to_contain_text(
            "Ketch"
        )
        count = re.search(r"Simulate (\d+) hosts", hosts)
        assert count is not None
        expect(page.get_by_test_id("sizing-sentence")).to_contain_text(
            f"this pool has {count.group(1)}"
        )

    def test_what_is_asked_stands_in_the_address(self, watched, plan):
        page = watched.open(f"{plan}/hosts")
        sentence = page.get_by_test_id("sizing-sentence")
        expect(sentence).to_contain_text("hosts hold the peak")
        needed = re.search(r"(\d+) hosts hold the peak", sentence.inner_text())
        assert needed is not None
        # One of three zones lost: what is left holds the peak.
        without_a_zone = f"{-(-3 * int(needed[1]) // 2)} hosts"
        page.get_by_label("Zones", exact=True).select_option("lost")
        expect(sentence).to_contain_text(without_a_zone)
        page.reload()
        expect(sentence).to_contain_text(without_a_zone)
        page.get_by_test_id("size-ketch").click()
        expect(page).to_have_url(re.compile("size=ketch"))
        page.get_by_role("slider", name="Session limit").press("ArrowLeft")
        expect(page).to_have_url(re.compile("limit="))
        tried = limit(page)
        page.reload()
        expect(page.get_by_role("slider", name="Session limit")).to_have_attribute(
            "aria-valuenow", str(tried)
        )

    def test_tuning_the_image_makes_room(self, watched, plan):
        page = watched.open(f"{plan}/hosts")
        page.get_by_test_id("simulate").click()
        found = page.get_by_test_id("checked")
        expect(found).to_contain_text("4 weeks", timeout=30_000)
        field = page.get_by_label("CPU left by tuning, in per cent")
        enter(field, "80")
        expect(page.get_by_test_id("image")).to_contain_text("in place of 13")
        # What the simulation found is about the plan before.
        expect(found).to_have_count(0)

    def test_a_workload_is_measured_from_samples(self, watched, plan, tmp_path):
        rows = [
            f"s{k},{t},{0.4 + k / 100},{1.5 + k / 50},active" for k in range(20) for t in range(5)
        ]
        path = tmp_path / "samples.csv"
        path.write_text("\n".join(["session,time,cpu_vcpu,memory_gib,state", *rows]))
        page = watched.open(f"{plan}/hosts")
        page.get_by_test_id("samples").first.locator("input").set_input_files(path)
        expect(page.get_by_test_id("workload")).to_contain_text("20 sessions measured")
        expect(page.get_by_test_id("workload")).to_contain_text("samples.csv")

    def test_prices_go_out_come_in_and_come_from_the_feed(self, watched, plan, tmp_path):
        page = watched.open(f"{plan}/hosts")
        with page.expect_download() as waiting:
            page.get_by_test_id("sheet-csv").click()
        path = tmp_path / "sheet.csv"
        waiting.value.save_as(path)
        path.write_text(path.read_text().replace("0.412", "0.500"))
        page.get_by_test_id("sheet-file").locator("input").set_input_files(path)
        expect(page.get_by_test_id("price-changes")).to_contain_text("1 value differs")
        page.get_by_test_id("take-prices").click()
        expect(page.get_by_test_id("state")).to_contain_text("edited")
        page.get_by_test_id("feed").click()
        expect(page.get_by_test_id("price-changes")).to_contain_text("the simulated price feed")

    def test_a_sheet_that_cannot_be_is_explained(self, watched, plan, tmp_path):
        watched.allowed = re.compile("422")
        path = tmp_path / "bad.csv"
        path.write_text("item,id\nship,x\n")
        page = watched.open(f"{plan}/hosts")
        page.get_by_test_id("sheet-file").locator("input").set_input_files(path)
        expect(page.get_by_test_id("prices")).to_contain_text("item is 'ship'")

    def test_the_pool_moves_to_another_place(self, watched, plan):
        page = watched.open(f"{plan}/hosts?group=head-office")
        expect(page.get_by_test_id("places")).to_contain_text("may not be kept in Canada")
        page.get_by_label("Move to northlight").click()
        row = page.get_by_test_id("sizes").get_by_role("row", name="Lantern")
        expect(row).to_contain_text("does not have this size")

    def test_a_size_and_a_place_are_edited_in_their_sentences(self, watched, plan):
        page = watched.open(f"{plan}/hosts")
        size = page.get_by_test_id("size-sentence")
        price = size.get_by_label("Hourly price")
        enter(price, "0.824")
        row = page.get_by_test_id("sizes").get_by_role("row", name="in use")
        expect(row).to_contain_text("€0.059")
        size.get_by_label("Westquay").uncheck()
        expect(row).to_contain_text("does not have this size")
        size.get_by_label("Westquay").check()
        expect(row).to_contain_text("€0.059")
        lists = page.get_by_test_id("lists")
        lists.get_by_role("radio", name="places").click()
        lists.get_by_role("button", name="as a sentence").first.click()
        trip = lists.get_by_label("Round trip to quillmoor")
        enter(trip, "180")
        expect(page.get_by_test_id("places")).to_contain_text("further than the promise of 100 ms")
        page.get_by_test_id("copy-size").click()
        expect(page).to_have_url(re.compile("size=sloop-copy"))


class TestPools:
    def test_every_pool_is_in_the_table(self, watched, plan):
        page = watched.open(f"{plan}/pools")
        rows = page.get_by_test_id("pool-table").get_by_role("row")
        expect(rows).to_have_count(9, timeout=20_000)
        expect(page.get_by_test_id("pool-table")).to_contain_text("44 of 38")
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")

    def test_a_kind_is_changed_in_its_sentence(self, watched, plan):
        page = watched.open(f"{plan}/pools?pool=metering")
        page.get_by_label("Kind of pool").select_option("dedicated")
        drawn(page)
        row = page.get_by_test_id("pool-table").get_by_role("row", name="Metering")
        expect(row).to_contain_text("dedicated")
        expect(row).to_contain_text("1 × 38")
        expect(page.get_by_label("Surge hosts")).to_have_count(0)

    def test_a_copy_shows_what_was_changed(self, watched, plan):
        page = watched.open(f"{plan}/pools?pool=line")
        page.get_by_test_id("copy-pool").click()
        expect(page).to_have_url(re.compile("pool=line-copy&against=line"))
        differences = page.get_by_test_id("differences")
        expect(differences).to_contain_text("schedule line → line-copy")
        field = page.get_by_label("Standing hosts")
        enter(field, "20")
        expect(differences).to_contain_text("hosts: standing 32 → 20")

    def test_a_pool_is_added_named_and_removed(self, watched, plan):
        page = watched.open(f"{plan}/pools?pool=line")
        page.get_by_test_id("add-pool").click()
        name = page.get_by_label("Name of the pool")
        expect(name).to_be_focused()
        enter(name, "Night desk, Zürich")
        row = page.get_by_test_id("pool-table").get_by_role("row", name="Night desk, Zürich")
        expect(row).to_contain_text("nobody")
        expect(page.get_by_label("Schedule", exact=True)).to_contain_text("Night desk, Zürich")
        assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
        # A name that another has is refused, and a size that is used stays.
        watched.allowed = re.compile("422")
        enter(name, "LINE")
        expect(page.get_by_test_id("problem")).to_contain_text("is called 'LINE' already")
        page.get_by_role("button", name="Remove it").click()
        expect(row).to_have_count(0)
        page.goto(page.url.replace("/pools", "/hosts"))
        page.get_by_test_id("remove-size").click()
        expect(page.get_by_test_id("problem")).to_contain_text("is used by pool 'Office'")

    def test_dates_zones_and_bounds_are_set_and_cleared(self, watched, plan):
        page = watched.open(f"{plan}/pools?pool=office")
        page.get_by_label("Last date").click()
        enter(page.get_by_label("Last date", exact=True), "2027-03-03")
        expect(page.get_by_test_id("finding").filter(has_text="does not exist on")).to_be_visible()
        page.get_by_label("Last date: no end").click()
        expect(page.get_by_test_id("finding").filter(has_text="does not exist on")).to_have_count(0)
        page.get_by_label("west-3").uncheck()
        expect(page.get_by_label("west-1")).to_be_checked()
        page.get_by_label("Hosts that start at once: any number of hosts").click()
        expect(page.get_by_role("button", name="Hosts that start at once")).to_be_visible()

    def test_kinds_and_a_drill_are_told_in_words(self, watched, plan):
        page = watched.open(f"{plan}/pools?pool=metering")
        page.get_by_test_id("ask-kinds").click()
        kinds = page.get_by_test_id("kinds")
        expect(kinds).to_contain_text("the image's system holds one session", timeout=30_000)
        expect(kinds).to_contain_text(re.compile("Take (lent|dedicated)"))
        page.get_by_label("What fails").select_option("0")
        page.get_by_test_id("ask-drill").click()
        told = page.get_by_test_id("drilled")
        expect(told).to_contain_text("hosts failed under", timeout=30_000)
        page.get_by_label("What befalls them").select_option("agents silent")
        expect(told).to_have_count(0)
        page.get_by_test_id("ask-drill").click()
        expect(told).to_contain_text("hosts were started meanwhile", timeout=30_000)


class TestChecks:
    def test_a_finding_is_shown_where_it_is_set_and_mended(self, watched, plan):
        page = watched.open(f"{plan}/checks")
        sentence = page.get_by_test_id("checks-sentence")
        expect(sentence).to_contain_text("8 of 10", timeout=30_000)
        expect(page.get_by_test_id("found")).to_have_text("8")
        broken = page.get_by_test_id("finding").filter(has_text="'Drawings' breaks its promise")
        expect(broken).to_contain_text("60 s promised")
        short = page.get_by_test_id("finding").filter(has_text="hold 38 sessions")
        short.get_by_role("link", name="Show it").click()
        expect(page).to_have_url(re.compile("pools.*pool=metering"))
        expect(short).to_contain_text("38 hosts (32 standing, 6 surge) of 1 hold 38 sessions")
        page.keyboard.press("7")
        short.get_by_test_id("mend").click()
        expect(short).to_have_count(0, timeout=30_000)
        page.get_by_test_id("undo").click()
        expect(short).to_have_count(1, timeout=30_000)

    def test_a_plan_without_a_pool_says_what_would_stand_here(self, watched):
        page = watched.open(f"{watched.own({'week_of': '2027-03-01'}, 'Calm')}/checks")
        expect(page.get_by_test_id("empty")).to_contain_text("what would make a build or a morning")


def test_keys_go_between_the_views_and_keep_the_pool(watched, plan):
    page = watched.open(f"{plan}/hosts?pool=line", drawn)
    for key, name in (("3", "pools"), ("4", "board"), ("2", "hosts")):
        page.keyboard.press(key)
        expect(page).to_have_url(re.compile(f"{name}.*pool=line"))


def test_a_class_of_users_fills_a_workload_and_says_so(watched):
    page = watched.open(f"{watched.own(demo_plan(), 'Classes')}/hosts?pool=office")
    workload = page.get_by_test_id("workload")
    user = workload.get_by_label("Class of users").first
    expect(user).to_have_value("own")
    user.select_option(label="heavy users")
    expect(workload.get_by_label("CPU of an active session").first).to_have_value("0.85")
    expect(workload).to_contain_text("These are assumed values of heavy users")
    enter(workload.get_by_label("CPU of an active session").first, "0.7")
    expect(user).to_have_value("own")
