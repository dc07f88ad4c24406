"""The People view as a planner uses it, in a real browser."""

import re
from uuid import uuid4

import pytest
from playwright.sync_api import Page, expect

from idle_harbor.demo.directory import demo_directory
from idle_harbor.demo.scenario import demo_plan
from tests.browser.looking import enter
from tests.browser.test_board import drag
from tests.browser.test_landing import held, let_go, wait_for


@pytest.fixture
def people(watched) -> str:
    """The path of the People view of a plan of its own, alike to the demo's."""
    return f"{watched.own(demo_plan(), 'People')}/people"


def drawn(page: Page) -> None:
    """Wait until the newest edit is drawn, and the range over many weeks with it."""
    expect(page.locator(".picture")).to_have_attribute("aria-busy", "false", timeout=20_000)
    expect(page.get_by_test_id("peak-sentence")).to_contain_text("such weeks", timeout=20_000)


def peak(page: Page) -> int:
    text = page.get_by_test_id("peak-sentence").inner_text()
    found = re.search(r", ([\d,]+) people want", text)
    assert found is not None, text
    return int(found.group(1).replace(",", ""))


def other_than(page: Page, before: int) -> int:
    expect(page.get_by_test_id("peak-sentence")).not_to_contain_text(f", {before:,} people")
    drawn(page)
    return peak(page)


def grip(page: Page, name: str, by: float) -> None:
    """Drag the post of a handle; its box goes on to the right with its words."""
    # An answer of an edit before may draw other hours, and move the posts.
    drawing = page.get_by_role("group", name="A working day")
    expect(drawing).to_have_attribute("aria-busy", "false")
    handle = page.get_by_test_id(name)
    box = handle.bounding_box()
    assert box is not None
    drag(page, handle, by, 0, (7 / box["width"], 60))


def test_the_week_says_when_the_peak_is_and_who_makes_it(watched, people):
    page = watched.open(people, drawn)
    expect(page.get_by_test_id("peak-sentence")).to_contain_text("Head office")
    expect(page.get_by_test_id("group")).to_have_count(10)
    expect(page.get_by_test_id("doubles")).to_contain_text("people may open more than one")
    expect(page.get_by_test_id("findings")).to_contain_text("'Depot rota' is not in the image")
    page.get_by_test_id("crowd").focus()
    page.keyboard.press("PageDown")
    expect(page.get_by_test_id("crowd")).to_contain_text("at work")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_the_picture_has_four_faces_and_the_year_leads_to_its_weeks(watched, people):
    page = watched.open(people, drawn)
    page.get_by_test_id("show-peaks").click()
    expect(page.get_by_test_id("day-peak")).to_have_count(7)
    page.get_by_test_id("show-arrivals").click()
    expect(page.get_by_test_id("crowd")).to_contain_text("logons")
    page.get_by_test_id("show-year").click()
    expect(page.get_by_test_id("year")).to_be_visible(timeout=20_000)
    page.get_by_test_id("year").focus()
    for _ in range(3):
        page.keyboard.press("PageDown")
    page.keyboard.press("Enter")
    week = page.get_by_label("week of", exact=True)
    expect(week).to_have_value("2027-01-18")
    enter(week, "2027-10-20")
    page.get_by_test_id("show-present").click()
    expect(page.get_by_test_id("crowd")).to_contain_text("Storm")
    assert "week=2027-10-18" in page.url


def test_a_pattern_is_dragged_and_the_week_answers(watched, people):
    page = watched.open(f"{people}?group=billing", drawn)
    before = peak(page)
    expect(page.get_by_role("textbox", name="Start", exact=True)).to_have_value("08:30")
    grip(page, "pattern-start", 120)
    moved = page.get_by_role("textbox", name="Start", exact=True).input_value()
    assert "10:00" < moved < "11:30"
    grip(page, "pattern-leave", -200)
    assert other_than(page, before) < before
    expect(page.get_by_test_id("state")).to_contain_text("edited")
    for _ in range(2):
        page.get_by_test_id("undo").click()
    expect(page.get_by_test_id("peak-sentence")).to_contain_text(f", {before:,} people")


def test_a_second_pattern_has_a_name_as_people_write_it(watched, people):
    page = watched.open(f"{people}?group=billing", drawn)
    sentence = page.get_by_test_id("pattern-sentence")
    expect(sentence.get_by_label("Name of the pattern")).to_have_count(0)
    page.get_by_test_id("add-pattern").click()
    enter(sentence.get_by_label("Name of the pattern"), "Früh, Monatsende")
    row = page.get_by_role("radiogroup", name="Patterns")
    expect(row.get_by_role("radio", checked=True)).to_have_text("Früh, Monatsende")
    row.get_by_role("radio", checked=True).focus()
    page.keyboard.press("ArrowLeft")
    expect(row.get_by_role("radio", name="Day", exact=True)).to_be_focused()
    expect(sentence.get_by_label("Name of the pattern")).to_have_value("Day")


def test_a_pattern_by_keyboard_alone(watched, people):
    page = watched.open(f"{people}?group=billing", drawn)
    page.get_by_test_id("pattern-start").focus()
    for _ in range(3):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_role("textbox", name="Start", exact=True)).to_have_value("08:15")
    page.get_by_test_id("pattern-start-spread").focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(page.get_by_role("textbox", name="Spread of starts", exact=True)).to_have_value("20")
    page.get_by_test_id("break").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("textbox", name="Break begins", exact=True)).to_have_value("12:25")
    page.get_by_test_id("leaving").first.focus()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_label("Share that leaves this way: sign off", exact=True)).to_have_value(
        "16"
    )
    page.get_by_test_id("break").focus()
    page.keyboard.press("Delete")
    expect(page.get_by_test_id("break")).to_have_count(0)
    page.get_by_test_id("add-break").click()
    expect(page.get_by_test_id("break")).to_have_count(1)
    page.locator("body").press("4")
    expect(page.get_by_test_id("floor").first).to_be_visible(timeout=20_000)
    expect(page.get_by_test_id("state")).to_contain_text("edited")
    page.locator("body").press("1")
    expect(page.get_by_test_id("crowd")).to_be_visible()


def test_copy_split_merge_and_remove(watched, people):
    page = watched.open(f"{people}?group=hydrology", drawn)
    page.get_by_test_id("split-group").click()
    page.get_by_test_id("split-part").fill("24")
    page.get_by_test_id("regroup-do").click()
    expect(page.get_by_test_id("group")).to_have_count(11)
    # Its name is ready to be typed over.
    name = page.get_by_label("Name of the group")
    expect(name).to_have_value("Hydrology, part")
    expect(name).to_be_focused()
    expect(page.get_by_label("People", exact=True)).to_have_value("24")
    page.get_by_test_id("merge-group").click()
    page.get_by_test_id("merge-other").select_option("hydrology")
    page.get_by_test_id("regroup-do").click()
    expect(page.get_by_test_id("group")).to_have_count(10)
    expect(page.get_by_label("People", exact=True)).to_have_value("64")
    watched.allowed = re.compile("422")
    page.get_by_test_id("merge-group").click()
    page.get_by_test_id("merge-other").select_option("planning")
    page.get_by_test_id("regroup-do").click()
    expect(page.get_by_test_id("problem")).to_contain_text("differ in their workload profile")
    page.get_by_test_id("copy-group").click()
    expect(page.get_by_test_id("group")).to_have_count(11)


def test_what_if_is_kept_as_an_event_or_thrown_away(watched, people):
    page = watched.open(people, drawn)
    before = peak(page)
    page.get_by_label("What if the group has grown").fill("20")
    more = other_than(page, before)
    assert more > 1.1 * before
    expect(page.get_by_test_id("state")).to_have_text("r1")
    page.get_by_test_id("what-forget").click()
    assert other_than(page, more) == before
    page.get_by_label("What if work starts earlier or later").fill("-60")
    expect(page.get_by_test_id("what-if")).to_contain_text("60 min earlier")
    # Who is sent the address sees the same question.
    expect(page).to_have_url(re.compile("later=-60"))
    page.reload()
    expect(page.get_by_test_id("what-if")).to_contain_text("60 min earlier")
    page.get_by_placeholder("name of the event").fill("Early week")
    page.get_by_test_id("what-keep").click()
    expect(page.get_by_test_id("event")).to_have_count(5)
    last = page.get_by_test_id("event").last.get_by_label("Name of the event")
    expect(last).to_have_value("Early week")
    expect(page.get_by_test_id("state")).to_contain_text("edited")


def test_what_if_is_compared_with_its_own_week_alone(watched, people):
    page = watched.open(people, drawn)
    page.get_by_label("What if the group has grown").fill("20")
    change = page.get_by_test_id("what-if").get_by_role("status")
    expect(change).to_contain_text("Peak +")
    crowds = held(page, "**/api/people/crowd", "POST")
    page.get_by_label("The week after").click()
    wait_for(page, crowds)
    expect(change).to_have_count(0)
    # The week without what is asked is answered first; one is not compared with the other week.
    page.wait_for_timeout(200)
    let_go(page, "**/api/people/crowd", crowds)
    expect(change).to_contain_text("Peak +")


def test_events_sites_and_a_calendar_file(watched, people, tmp_path):
    page = watched.open(people, drawn)
    page.get_by_test_id("add-event").click()
    expect(page.get_by_test_id("event")).to_have_count(5)
    calendar = tmp_path / "rest.ics"
    calendar.write_text(
        "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20270303\r\nSUMMARY:Day of rest\r\n"
        "END:VEVENT\r\nEND:VCALENDAR\r\n"
    )
    page.get_by_label("Quillmoor as a sentence").click()
    page.get_by_test_id("calendar-file").first.locator("input").set_input_files(str(calendar))
    expect(page.get_by_test_id("sites")).to_contain_text("rest.ics: 1 dates, 1 of them new")
    expect(page.get_by_test_id("crowd")).to_contain_text("Day of rest")


def test_drop_ins_by_the_hour(watched, people):
    page = watched.open(f"{people}?group=depot-counters", drawn)
    rate = page.get_by_test_id("rate").nth(10)
    expect(rate).to_have_attribute("aria-valuenow", "71")
    rate.focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(rate).to_have_attribute("aria-valuenow", "77")
    page.get_by_role("button", name="Make Monday to Friday like this").click()
    page.get_by_role("radio", name="Fri", exact=True).click()
    expect(rate).to_have_attribute("aria-valuenow", "77")


def test_the_directory_is_imported_with_a_preview_and_followed(watched, people, tmp_path):
    page = watched.open(f"{people}?panel=directory", drawn)
    found = page.get_by_test_id("import")
    file = page.get_by_test_id("directory-file")
    (tmp_path / "half.csv").write_text("key,name,mail,groups\np1,Ann,,a\np2,Be")
    file.set_input_files(str(tmp_path / "half.csv"))
    expect(found).to_have_attribute("data-state", "wrong")
    expect(found).to_contain_text("line 3")
    expect(page.get_by_test_id("import-apply")).to_have_count(0)
    page.get_by_test_id("import-drop").click()
    expect(found).to_have_attribute("data-state", "dropped")

    (tmp_path / "day2.ldif").write_bytes(demo_directory().as_ldif(2))
    file.set_input_files(str(tmp_path / "day2.ldif"))
    expect(found).to_have_attribute("data-state", "ready", timeout=20_000)
    expect(found).to_contain_text("people dropped")
    page.get_by_test_id("import-apply").click()
    expect(found).to_have_attribute("data-state", "applied", timeout=20_000)
    expect(page.get_by_test_id("behind")).to_contain_text("Field crews")
    page.get_by_test_id("take").click()
    expect(page.get_by_test_id("behind")).to_have_count(0)
    expect(page.get_by_test_id("state")).to_contain_text("edited")
    expect(page.get_by_test_id("directory")).to_contain_text("Nobody plans for fleet-yard")


def test_hosts_of_ones_own_from_a_list(watched, people, tmp_path):
    page = watched.open(f"{people}?group=control-room", drawn)
    homes = page.get_by_test_id("homes")
    expect(homes).to_contain_text("24 of this group are on its list")
    (tmp_path / "hosts.csv").write_text("group,person,host\ncontrol-room,1,9\ncontrol-room,2,8\n")
    page.get_by_test_id("host-list").locator("input").set_input_files(str(tmp_path / "hosts.csv"))
    expect(homes).to_contain_text("2 of this group are on its list")
    page.get_by_label("How people get their hosts").select_option("by list")
    expect(page.get_by_test_id("findings")).to_contain_text("2 are on its list")


def test_people_from_empty(watched):
    page = watched.open("/")
    page.get_by_test_id("new-name").fill(f"Fresh {uuid4().hex[:8]}")
    page.get_by_test_id("new-plan").click()
    expect(page.get_by_test_id("first")).to_be_visible()
    page.get_by_test_id("view-people").click()
    page.get_by_label("Name of the group").fill("Bürgerbüro")
    page.get_by_test_id("new-group").get_by_role("button", name="Add", exact=True).click()
    expect(page.get_by_test_id("group")).to_contain_text(["Bürgerbüro"])
    expect(page.get_by_test_id("findings")).to_contain_text("'Bürgerbüro' may open no pool")
    # It is looked at, and its name may be typed at once.
    name = page.get_by_role("heading").get_by_label("Name of the group")
    expect(name).to_be_focused()
    enter(name, "Town desk")
    expect(page.get_by_test_id("group")).to_contain_text(["Town desk"])


def test_a_new_plan_has_nobody_of_another_until_it_shares_their_directory(watched):
    path = watched.own(demo_plan(), "Alone")
    page = watched.open(f"{path}/people?panel=directory", drawn)
    panel = page.get_by_test_id("directory")
    expect(panel).to_contain_text("This plan has no directory.")
    expect(panel.get_by_role("table")).to_have_count(0)
    panel.get_by_label("Directory of the plan").select_option(label="Quillmoor Water")
    expect(panel).to_contain_text("shared with Quillmoor Water")
    expect(panel.get_by_role("table")).to_contain_text("customer-line")
    panel.get_by_label("Directory of the plan").select_option(label="no directory")
    expect(panel).to_contain_text("This plan has no directory.")
