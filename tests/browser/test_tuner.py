"""The Tuner in the page: a question, the search, what it found, taken over and undone."""

import itertools
import re

import pytest
from playwright.sync_api import expect

from idle_harbor.demo.scenario import demo_plan
from tests.browser.looking import enter, nothing_serious, settled
from tests.core.plans import only

# Milliseconds a study may take where the machine is busy with other tests.
A_STUDY = 240_000
# A test asks for up to three of them.
pytestmark = pytest.mark.timeout(900)


def test_the_best_settings_are_searched_for_told_and_taken_over(watched, demo):
    page = watched.open(f"{demo.replace('/board', '/tuner')}?pool=office")
    expect(page.get_by_test_id("question")).to_contain_text("so that the promise costs least")
    # Where to begin: every pool with what it could save at most.
    begin = page.get_by_test_id("where-to-begin")
    expect(begin).to_contain_text("To gain at most")
    begin.get_by_role("button", name="Line").click()
    expect(page.get_by_label("Pool to tune")).to_have_value("line")
    nothing_serious(page)
    enter(page.get_by_label("Weeks of candidates"), "400")
    page.get_by_text("Which weeks count, what stays as it is").click()
    page.get_by_label("starts at a knock").check()
    page.get_by_test_id("search").click()
    expect(page.get_by_test_id("study-progress")).to_contain_text("of 400 weeks")
    verdict = page.get_by_test_id("verdict")
    expect(verdict).to_contain_text("a month keep the promise", timeout=A_STUDY)
    expect(page.get_by_test_id("next-second")).to_contain_text(
        re.compile("wait|refus|strained|promised")
    )
    # Kinds of week of the year, and the picture over another part of the promise.
    expect(page.get_by_test_id("weeks-of-year")).to_contain_text("Clocks of Port Ellery")
    page.get_by_label("What the picture is drawn over").select_option("strained_share")
    expect(page.get_by_test_id("front")).to_have_attribute(
        "aria-label", "Money of a month against strained work"
    )
    nothing_serious(page)

    # On paper there is the sheet of the study alone.
    page.emulate_media(media="print")
    expect(page.get_by_test_id("sheet")).to_contain_text("95 % of logons")
    expect(page.get_by_test_id("front")).to_be_hidden()
    page.emulate_media(media="screen")
    expect(page.get_by_test_id("sheet")).to_be_hidden()
    expect(page.get_by_test_id("worse-off")).to_contain_text("worse")

    # What is pointed at stands as a ghost in a day of today, here and on the Board.
    week = page.get_by_label("A day of today's plan, with tuned as a ghost")
    expect(week).to_contain_text("with tuned as a ghost in it")
    page.get_by_test_id("ghost").click()
    page.wait_for_url("**/board**")
    settled(page)
    expect(page.get_by_test_id("pin")).to_have_value("ghost")
    expect(page.get_by_text(re.compile("on tuned, study")).first).to_be_visible()
    page.get_by_test_id("pin").select_option("")
    expect(page.get_by_text(re.compile("on tuned, study"))).to_have_count(0)
    page.go_back()

    # Each mark tells its figures; the changes add up.
    chosen = page.get_by_test_id("chosen")
    expect(chosen).to_contain_text("tuned")
    page.get_by_test_id("mark-today").focus()
    expect(chosen).to_contain_text("today")
    expect(chosen.get_by_test_id("take-over")).to_have_count(0)
    expect(page.get_by_test_id("steps")).to_contain_text("All changes together")
    page.get_by_test_id("mark-tuned").click()
    page.get_by_test_id("take-over").click()
    expect(chosen).to_contain_text("It is in the plan")
    expect(page.get_by_role("button", name="Save")).to_be_enabled()

    # Its week is on the Board, and undo takes it back.
    chosen.get_by_role("link", name="See its week").click()
    settled(page)
    expect(page.get_by_test_id("gauge-lost")).to_contain_text("kept")
    page.get_by_role("button", name="Undo").click()
    settled(page)
    expect(page.get_by_test_id("gauge-lost")).to_contain_text("broken")

    # The study is among those of the plan, and found again by its address.
    page.go_back()
    studies = page.get_by_test_id("studies")
    expect(studies).to_contain_text(re.compile("Line, schedule, timeouts"))
    page.reload()
    expect(verdict).to_contain_text("a month keep the promise")


def test_what_counts_and_within_what_is_asked_by_hand(watched, demo):
    page = watched.open(f"{demo.replace('/board', '/tuner')}?pool=counters")
    enter(page.get_by_label("Weeks of candidates"), "400")
    page.get_by_text("Which weeks count, what stays as it is").click()
    page.get_by_label(re.compile(r"Ordinary \(")).check()
    page.get_by_label(re.compile(r"Counter rush \(")).check()
    enter(page.get_by_label("How often Counter rush comes"), "0.25")
    page.get_by_test_id("bound").select_option("schedules.day_types.bands.floor")
    enter(page.get_by_label("Least", exact=True), "1")
    enter(page.get_by_label("Most", exact=True), "4")
    page.get_by_label("Minutes after which it is ended early").fill("10")
    page.keyboard.press("Enter")
    enter(page.get_by_label("Number of the search"), "7")
    nothing_serious(page)
    page.get_by_test_id("search").click()
    expect(page.get_by_test_id("verdict")).to_be_visible(timeout=A_STUDY)
    number = re.search(r"study=(\d+)", page.url)
    assert number
    origin = page.url.split("/plans/")[0]
    told = page.request.get(f"{origin}/api/studies/{number[1]}").json()
    asked = told["question"]
    assert [(week["name"], week["weight"]) for week in asked["weeks"]] == [
        ("ordinary", 52),
        ("counter-rush", 0.25),
    ]
    assert asked["within"] == [{"path": "schedules.day_types.bands.floor", "low": 1, "high": 4}]
    assert (asked["seconds"], asked["seed"], asked["budget"]) == (600, 7, 400)
    kinds = told["answer"]["front"][0]["schedule"]["day_types"]
    floors = [band["floor"] for kind in kinds for band in kind["bands"]]
    assert all(1 <= floor <= 4 for floor in floors)


def test_where_nothing_is_better_the_plan_of_today_is_the_answer(watched, demo):
    """The hosts of this pool run whatever a schedule says: there is nothing to take over."""
    page = watched.open(f"{demo.replace('/board', '/tuner')}?pool=counters")
    enter(page.get_by_label("Weeks of candidates"), "400")
    page.get_by_test_id("search").click()
    expect(page.get_by_test_id("verdict")).to_contain_text(
        "Nothing better than the plan of today was found.", timeout=A_STUDY
    )
    chosen = page.get_by_test_id("chosen")
    expect(chosen.get_by_test_id("as-today")).to_have_text("It is the plan of today.")
    expect(chosen.get_by_test_id("take-over")).to_have_count(0)
    expect(page.get_by_test_id("steps")).to_have_count(0)
    # Names of what stands at one place are moved apart, within the picture.
    front = page.get_by_test_id("front")
    top = front.bounding_box()["y"]
    names = [each.bounding_box() for each in front.locator("text.name").all()]
    assert len(names) == 7 and all(box["y"] >= top for box in names)
    heights = sorted(box["y"] for box in names)
    assert all(b - a > 8 for a, b in itertools.pairwise(heights))
    nothing_serious(page)


def test_a_study_is_stopped_and_goes_on(watched, demo):
    page = watched.open(f"{demo.replace('/board', '/tuner')}?pool=office")
    enter(page.get_by_label("Weeks of candidates"), "50000")
    page.get_by_test_id("search").click()
    expect(page.get_by_test_id("front")).to_be_visible(timeout=A_STUDY)
    page.get_by_test_id("study-progress").get_by_role("button", name="stop").click()
    expect(page.get_by_text("It was stopped; what was tried is kept.")).to_be_visible()
    page.get_by_role("button", name="Go on").click()
    expect(page.get_by_test_id("study-progress")).to_be_visible()
    page.get_by_test_id("study-progress").get_by_role("button", name="stop").click()
    expect(page.get_by_text("It was stopped; what was tried is kept.")).to_be_visible()


def test_all_pools_are_weighed_together_and_a_study_compared(watched):
    document = only(demo_plan(), "line", "field", "counters")
    field = next(pool for pool in document["pools"] if pool["id"] == "field")
    field["promise"] = {"comfort": 1.0}
    page = watched.open(f"{watched.own(document)}/tuner?pool=all pools")
    enter(page.get_by_label("Weeks of candidates"), "250")
    page.get_by_test_id("search").click()
    expect(page.get_by_text("pools are searched")).to_be_visible()
    # Opened anew while they go on: nothing is wrong that will be right when they are done.
    page.reload()
    expect(page.get_by_text("pools are searched")).to_be_visible()
    expect(page.get_by_role("alert")).to_have_count(0)
    verdict = page.get_by_test_id("together-verdict")
    expect(verdict).to_contain_text("a month for all pools instead of", timeout=A_STUDY)
    expect(page.get_by_test_id("more-money")).not_to_be_empty()
    expect(page.get_by_test_id("spare-money")).not_to_be_empty()
    nothing_serious(page)

    # Too little money is said; a great deal buys back hours.
    enter(page.get_by_label("Money a month"), "1000")
    expect(page.get_by_text("a month at least")).to_be_visible()
    page.get_by_role("button", name="as cheap as that goes").click()
    expect(verdict).to_be_visible()
    # That field crews never wait a second nobody can keep.
    row = page.get_by_test_id("together").get_by_role("row").filter(has_text="Field")
    expect(row).to_contain_text("not for sure")
    expect(verdict).to_have_class(re.compile("unsure"))
    page.get_by_test_id("take-all").click()
    expect(page.get_by_text("It is in the plan; undo takes it back.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()

    # Another study of one of these pools, side by side with the one before it.
    page.get_by_label("Pool to tune").select_option("line")
    page.get_by_label("What may change").select_option("the schedule only")
    enter(page.get_by_label("Weeks of candidates"), "400")
    page.get_by_test_id("search").click()
    expect(page.get_by_test_id("study-progress")).to_contain_text("of 400 weeks")
    # Among the studies of the plan it is told as it is now, not as it was when it was asked.
    asked = page.get_by_test_id("studies").get_by_role("row").first
    expect(asked).to_contain_text("running")
    expect(page.get_by_test_id("verdict")).to_be_visible(timeout=A_STUDY)
    page.get_by_role("button", name="compare").first.click()
    expect(page.get_by_test_id("differ")).to_contain_text("Asked otherwise: free")

    # Gone only once that is said twice.
    rows = page.get_by_test_id("studies").get_by_role("row")
    before = rows.count()
    page.get_by_role("button", name="Remove study").last.click()
    page.get_by_role("button", name="keep it").click()
    expect(rows).to_have_count(before)
    page.get_by_role("button", name="Remove study").last.click()
    page.get_by_role("button", name="remove for good").click()
    expect(rows).to_have_count(before - 1)
