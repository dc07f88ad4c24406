"""The rules of a schedule on the Board: in its sentences, and in its pictures."""

import re

from playwright.sync_api import expect

from tests.browser.looking import drag, enter, nothing_serious, settled, value


def test_rules_are_added_to_a_band_and_left_out_again(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=1", settled)
    sentence, rules = page.get_by_test_id("sentence"), page.get_by_label("Add a rule")
    month = page.get_by_test_id("month").inner_text()
    rules.select_option("a lid")
    expect(sentence).to_contain_text("hosts are on.")
    enter(page.get_by_label("Lid", exact=True), "36")
    settled(page)
    assert page.get_by_test_id("month").inner_text() != month
    page.get_by_role("button", name="Lid: leave it out").click()
    expect(page.get_by_label("Lid", exact=True)).to_have_count(0)
    settled(page)
    expect(page.get_by_test_id("month")).to_have_text(month)
    page.get_by_label("Balancing rule").select_option("fill to a mark")
    expect(page.get_by_label("Mark in per cent")).to_have_value("70")


def test_hosts_are_asked_for_by_a_time_and_wait_for_people(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=1", settled)
    waits = value(page, "wait")
    page.get_by_label("Add a rule").select_option("hosts ready by a time")
    target = page.get_by_test_id("target")
    expect(target).to_contain_text("hosts are ready by")
    settled(page)
    assert value(page, "wait") != waits
    enter(page.get_by_label("Hosts ready by then"), "70")
    enter(page.get_by_label("Ready by", exact=True), "07:45")
    settled(page)
    expect(page.get_by_label("Ready by", exact=True)).to_have_value("07:45")
    page.get_by_label("Add a rule").select_option("ready by 07:45: an end of its own")
    expect(page.get_by_label("Kept until", exact=True)).to_have_value("08:45")
    nothing_serious(page)
    target.get_by_role("button", name="Nothing ready by 07:45").click()
    expect(target).to_have_count(0)


def test_a_target_is_a_post_that_is_dragged_in_time_and_hosts(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=1", settled)
    page.get_by_label("Add a rule").select_option("hosts ready by a time")
    post = page.get_by_role("slider", name="34 hosts ready by")
    expect(post).to_have_attribute("aria-valuetext", "08:30")
    settled(page)
    drag(page, post, -60, 0, (0.5, 40))
    expect(page.get_by_label("Ready by", exact=True)).not_to_have_value("08:30")
    settled(page)
    hosts = page.get_by_role("slider", name=re.compile("^Hosts ready by"))
    hosts.focus()
    page.keyboard.press("PageUp")
    expect(page.get_by_label("Hosts ready by then")).to_have_value("40")
    settled(page)
    # What came of it is told once the whole week is there.
    expect(page.get_by_test_id("target-handles")).to_contain_text(re.compile("40 ready by .*empty"))
    nothing_serious(page)


def test_one_pool_has_its_own_beside_a_shared_schedule(watched, demo):
    page = watched.open(f"{demo.removesuffix('board')}pools?pool=field")
    page.get_by_label("Schedule", exact=True).select_option("Line")
    expect(page.get_by_test_id("pool-sentences")).to_contain_text("as Line do")
    page.get_by_role("link", name="Board").click()
    page.get_by_test_id("pool").select_option("field")
    page.get_by_test_id("pool").select_option("line")
    settled(page)
    month = page.get_by_test_id("month").inner_text()
    whose = page.get_by_label("Whose rules are changed")
    expect(whose).to_contain_text("all 2 pools with this schedule")
    whose.select_option("Line alone")
    ceiling = page.get_by_label("Fill ceiling in per cent", exact=True)
    enter(ceiling, "40")
    settled(page)
    sentence = page.get_by_test_id("sentence")
    expect(sentence.get_by_test_id("own-value")).to_contain_text("here alone; else")
    changed = page.get_by_test_id("month").inner_text()
    assert changed != month
    # Times are everybody's: only a schedule of its own could have others.
    expect(page.get_by_label("Band begins", exact=True)).to_have_count(0)
    nothing_serious(page)
    page.get_by_role("button", name="give it a schedule of its own").click()
    expect(whose).to_have_count(0)
    settled(page)
    expect(page.get_by_test_id("month")).to_have_text(changed)
    expect(ceiling).to_have_value("40")
    page.get_by_role("button", name="Undo").click()
    settled(page)
    page.get_by_role("button", name="Fill ceiling in per cent: as elsewhere").click()
    settled(page)
    expect(page.get_by_test_id("month")).to_have_text(month)


def test_a_load_rule_is_drawn_on_its_signal_and_its_marks_are_dragged(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=0", settled)
    month = page.get_by_test_id("month").inner_text()
    page.get_by_label("Add a rule").select_option("a load rule")
    sentence = page.get_by_test_id("load-rule-sentence")
    expect(sentence).to_contain_text("hosts more are asked for")
    picture = page.get_by_role("group", name="Load rule Cpu: cpu over the day")
    expect(picture).to_be_visible()
    settled(page)
    nothing_serious(page)

    asks = page.get_by_role("slider", name="Cpu: asks for hosts above")
    expect(asks).to_have_attribute("aria-valuetext", "80 %")
    asks.focus()
    page.keyboard.press("PageDown")
    expect(asks).to_have_attribute("aria-valuetext", "70 %")
    expect(page.get_by_label("Asks at", exact=True)).to_have_value("70")
    permits = page.get_by_role("slider", name="Cpu: lets hosts go below")
    before = permits.get_attribute("aria-valuenow")
    drag(page, permits, 0, 12, (0.3, 20))
    expect(permits).not_to_have_attribute("aria-valuenow", before)
    hold = page.get_by_role("slider", name="Cpu: minutes above before it asks")
    hold.focus()
    page.keyboard.press("Home")
    expect(page.get_by_label("Hold before it asks", exact=True)).to_have_value("0")
    enter(page.get_by_label("Hosts that it adds", exact=True), "20")
    settled(page)
    assert page.get_by_test_id("month").inner_text() != month

    # Another signal has marks of its own unit, and few free slots are what asks.
    page.get_by_label("Signal", exact=True).select_option("the number of free slots")
    expect(sentence).to_contain_text("has been below")
    expect(page.get_by_label("Asks at", exact=True)).to_have_value("10")
    # It is called as people write it, and keeps its id.
    enter(sentence.get_by_label("Name of the load rule"), "Busy hosts")
    expect(page.get_by_role("group", name="Load rule Busy hosts")).to_be_visible()
    sentence.get_by_role("button", name="Take load rule Busy hosts away").click()
    expect(page.get_by_test_id("load-rule")).to_have_count(0)
    settled(page)
    expect(page.get_by_test_id("month")).to_have_text(month)


def test_a_mark_that_asks_where_hosts_go_is_refused_with_its_remedy(watched, demo):
    watched.allowed = re.compile("422")
    page = watched.open(f"{demo}?pool=office&band=0", settled)
    page.get_by_label("Add a rule").select_option("a load rule")
    enter(page.get_by_label("Lets go at", exact=True), "80")
    expect(page.get_by_role("alert").first).to_contain_text("at the same value, 0.8")
    page.get_by_role("button", name="Undo").click()
    settled(page)


def test_people_are_told_and_signed_off_and_the_board_says_how_many(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=2", settled)
    forced = page.get_by_test_id("gauge-forced")
    expect(forced).to_contain_text("0.0 %")
    page.get_by_label("Release", exact=True).select_option("drain the least used with notice")
    expect(page.get_by_test_id("sentence")).to_contain_text("On hosts that drain people read")
    enter(page.get_by_label("Notice", exact=True), "This desktop closes soon.")
    enter(page.get_by_label("Minutes of notice", exact=True), "30")
    page.get_by_label("Who is signed off", exact=True).select_option("who is disconnected or idle")
    settled(page)
    expect(forced).not_to_contain_text(re.compile(r"^Forced sign-offs\s*0.0 %"))
    forced.click()
    expect(page.get_by_test_id("why")).to_contain_text("were signed off by force")
    page.get_by_label("Release", exact=True).select_option("keep all of them")
    settled(page)
    expect(forced).to_contain_text(re.compile(r"^Forced sign-offs\s*0.0 %"))


def test_the_year_tells_which_kind_of_day_rules_which_date(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=0", settled)
    page.get_by_role("button", name="The year", exact=True).click()
    year = page.get_by_test_id("year")
    dates = year.get_by_test_id("dates")
    dates.focus()
    for key in ("ArrowDown", "ArrowDown", "PageDown", "PageDown", "ArrowRight", "ArrowRight"):
        page.keyboard.press(key)
    expect(dates).to_have_accessible_name(re.compile("17 March: Rest day, by the date itself"))
    # Numbers that stand above a part of the page that scrolls are taken to stand on that.
    nothing_serious(page, but="[data-testid=dates] text")
    # A holiday has the rules of its weekday until the schedule goes by a site and a kind takes it.
    year.get_by_label("Whose holidays").select_option("quillmoor")
    year.get_by_role("checkbox", name="holidays").nth(1).check()
    others = year.get_by_test_id("others")
    expect(others).to_contain_text("by a holiday")
    year.get_by_role("button", name="Add a stretch of dates").nth(1).click()
    expect(year.get_by_test_id("others")).to_contain_text(
        "1 March: Rest day, by a stretch of dates"
    )
    # A kind of day is copied, named, and given a weekday.
    year.get_by_role("button", name="Copy it").first.click()
    name = year.get_by_label("Name of a kind of day").nth(2)
    enter(name, "Quiet day")
    friday = year.get_by_role("checkbox", name="Fri is a Quiet day")
    friday.click()
    expect(friday).to_be_checked()
    expect(year.get_by_role("checkbox", name="Fri is a Workday")).not_to_be_checked()
    year.get_by_role("checkbox", name="Fri is a Workday").click()
    year.get_by_role("button", name="Take Quiet day away").click()
    expect(name).to_have_count(0)
    year.get_by_role("button", name="No stretch from").click()
    expect(others).not_to_contain_text("stretch")
    with page.expect_download() as taken:
        year.get_by_role("button", name="Take it away as a calendar file").click()
    assert taken.value.suggested_filename == "office 2027.ics"
    dates.press("Enter")
    expect(year).to_be_hidden()
    settled(page)
    expect(page.get_by_test_id("sentence")).to_contain_text("Wed 17 March")


def test_the_schedule_stands_side_by_side_as_a_table(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=1", settled)
    page.get_by_role("button", name="as a table").click()
    table = page.get_by_test_id("schedule-table")
    expect(table.get_by_role("columnheader", name="Rest day")).to_be_visible()
    expect(table.get_by_role("columnheader", name="from 08:30")).to_be_visible()
    expect(table.get_by_role("row", name="Release").last).to_contain_text("drain the least used")
    nothing_serious(page)


def test_a_night_is_in_one_piece_once_days_begin_at_noon(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=1", settled)
    page.get_by_role("button", name="The year", exact=True).click()
    enter(page.get_by_label("A day begins"), "12:00")
    expect(page.get_by_test_id("kinds")).to_contain_text("a night belongs to the day it begins on")
    page.keyboard.press("Escape")
    settled(page)
    bands = page.get_by_role("tab", name=re.compile(r"^\d\d:\d\d"))
    expect(bands.first).to_contain_text("12:00")
    page.get_by_role("tab", name=re.compile("^00:00")).click()
    # Midnight is an edge like any other now.
    enter(page.get_by_label("Band begins"), "01:00")
    settled(page)
    expect(page.get_by_role("tab", name=re.compile("^01:00"))).to_be_visible()
    nothing_serious(page)


def test_all_pictures_of_a_day_show_the_same_stretch_and_the_same_instant(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=1", settled)
    brush = page.get_by_test_id("brush")
    expect(brush).to_have_accessible_name(re.compile("00:00 to 00:00"))
    box = brush.bounding_box()
    assert box is not None
    quarter, middle_of_day = box["x"] + box["width"] / 4, box["x"] + box["width"] / 2
    page.mouse.move(quarter, box["y"] + 8)
    page.mouse.down()
    page.mouse.move(middle_of_day, box["y"] + 8, steps=3)
    page.mouse.up()
    expect(brush).to_have_accessible_name(re.compile("06:00 to 12:00"))
    # Handles of the bands, the ribbon and the lanes follow: one edge is left in sight.
    edge = page.get_by_role("slider", name="Band 2 begins")
    middle = edge.bounding_box()
    assert middle is not None
    there = (middle["x"] + middle["width"] / 2 - box["x"]) / box["width"]
    assert abs(there - 2.5 / 6) < 0.02
    page.get_by_test_id("lanes").hover()
    expect(page.get_by_test_id("water").locator("line.pointer")).to_have_count(1)
    expect(page.get_by_test_id("water")).to_contain_text(re.compile(r"\d\d:\d\d · \d+ session"))
    brush.focus()
    page.keyboard.press("-")
    expect(brush).to_have_accessible_name(re.compile("03:00 to 15:00"))
    page.keyboard.press("Home")
    expect(brush).to_have_accessible_name(re.compile("00:00 to 00:00"))
