"""The Board as a planner uses it, in a real browser."""

import json
import re
from uuid import uuid4
from xml.etree import ElementTree

from playwright.sync_api import expect

from idle_harbor.demo.scenario import demo_plan
from tests.browser.looking import drag, enter, settled, value


def test_open_the_demo_from_the_list(watched):
    page = watched.open("/")
    page.get_by_test_id("plan").filter(has_text="Quillmoor Water").click()
    settled(page)
    expect(page.get_by_test_id("day")).to_have_count(7)
    expect(page.get_by_test_id("gauge-wait")).to_contain_text("broken")
    expect(page.get_by_test_id("month")).to_contain_text("€")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_drag_an_edge_see_it_undo_save_reload(watched, demo):
    page = watched.open(demo, settled)
    wait, month = value(page, "wait"), page.get_by_test_id("month").inner_text()
    # The morning band from 08:30 to about 07:00: hosts are ready before people come.
    drag(page, page.get_by_test_id("edge").first, -55, 0, (0.5, 12))
    expect(page.get_by_label("Band begins", exact=True)).to_have_value(re.compile(r"0[67]:\d\d"))
    settled(page)
    assert value(page, "wait") != wait
    assert page.get_by_test_id("month").inner_text() != month
    expect(page.get_by_test_id("state")).to_contain_text("edited")

    page.get_by_test_id("undo").click()
    settled(page)
    assert value(page, "wait") == wait
    page.get_by_test_id("redo").click()
    settled(page)
    moved = page.get_by_label("Band begins", exact=True).input_value()

    page.get_by_test_id("save").click()
    page.get_by_test_id("words").fill("ready before people come")
    page.get_by_test_id("save-now").click()
    expect(page.get_by_test_id("state")).to_have_text("r2")
    page.reload()
    settled(page)
    expect(page.get_by_label("Band begins", exact=True)).to_have_value(moved)
    expect(page.get_by_test_id("pin")).to_contain_text("ready before people come")


def test_a_part_of_the_promise_is_taken_out_and_promised_again(watched, demo):
    page = watched.open(demo, settled)
    page.get_by_test_id("more").click()
    gauge = page.get_by_test_id("gauge-slowest")
    expect(gauge).to_contain_text("times the promised 3 min 00 s")
    page.get_by_role("button", name="Do not promise the wait of 99 % of logons").click()
    expect(gauge).to_contain_text("not promised")
    page.get_by_role("button", name="Promise the wait of 99 % of logons too").click()
    enter(page.get_by_label("Promise of the wait of 99 % of logons in seconds"), "600")
    expect(gauge).to_contain_text("kept, promised 10 min 00 s")


def test_a_short_timeout_loses_returns_and_a_longer_one_keeps_them(watched, demo):
    page = watched.open(f"{demo}?pool=line", settled)
    gauge = page.get_by_test_id("gauge-lost")
    expect(gauge).to_contain_text("times the promised 2.0 %")
    gauge.click()
    expect(page.get_by_test_id("why")).to_contain_text("because the timeout had signed them off")
    page.get_by_test_id("more").click()
    enter(page.get_by_label("Disconnected timeout in minutes", exact=True), "120")
    settled(page)
    expect(gauge).to_contain_text("kept")
    expect(page.get_by_test_id("why")).not_to_contain_text("because")


def test_a_date_is_given_rules_of_its_own_and_they_are_taken_back(watched, demo):
    page = watched.open(f"{demo}?day=1", settled)
    sentence, floor = page.get_by_test_id("sentence"), page.get_by_label("Floor", exact=True)
    expect(sentence).to_contain_text("On a Workday")
    page.get_by_role("button", name="Give 2 March rules of its own").click()
    expect(sentence).to_contain_text("On Tue 2 March")
    enter(floor, "60")
    settled(page)
    page.get_by_role("radio", name="Wed 3 March").click()
    expect(sentence).to_contain_text("On a Workday")
    expect(floor).to_have_value("34")
    page.get_by_role("radio", name="Tue 2 March").click()
    expect(floor).to_have_value("60")
    page.get_by_role("button", name="Back to the rules of its weekday").click()
    expect(floor).to_have_value("34")


def test_compare_with_a_pinned_revision(watched, demo):
    page = watched.open(f"{demo}?pin=1", settled)
    enter(page.get_by_label("Floor", exact=True), "56")
    settled(page)
    expect(page.get_by_test_id("gauge-wait")).to_contain_text("▼")
    expect(page.get_by_test_id("money")).to_contain_text(re.compile(r"▲ €\d+ on r1"))
    expect(page.get_by_test_id("water")).to_contain_text("the pinned revision")


def test_floor_and_ceiling_are_dragged_in_the_chart(watched, demo):
    page = watched.open(demo, settled)
    drag(page, page.get_by_role("slider", name="Floor of band 2"), 0, -40, (0.9, 21))
    floor = int(page.get_by_label("Floor", exact=True).input_value())
    assert 35 < floor <= 84
    drag(page, page.get_by_role("slider", name="Fill ceiling of band 2"), 0, 30, (0.5, 7))
    ceiling = int(page.get_by_label("Fill ceiling in per cent").input_value())
    assert 50 <= ceiling < 95
    settled(page)


def test_escape_takes_a_drag_back(watched, demo):
    page = watched.open(demo, settled)
    begins = page.get_by_label("Band begins", exact=True)
    before, wait = begins.input_value(), value(page, "wait")
    box = page.get_by_role("slider", name="Band 2 begins").bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(box["x"] - 60, box["y"] + 12, steps=5)
    expect(begins).not_to_have_value(before)
    page.keyboard.press("Escape")
    expect(begins).to_have_value(before)
    page.mouse.move(box["x"] - 120, box["y"] + 12)
    page.mouse.up()
    settled(page)
    expect(begins).to_have_value(before)
    assert value(page, "wait") == wait
    expect(page.get_by_test_id("state")).to_have_text("r1")


def test_the_waits_below_the_water_tell_who_and_why(watched, demo):
    page = watched.open(demo, settled)
    waits = page.get_by_role("slider", name="Logons that waited")
    waits.focus()
    page.keyboard.press("Home")
    first = waits.get_attribute("aria-valuetext") or ""
    assert re.match(r"0\d:\d\d · \d+ of \d+ who asked waited, half of them", first)
    expect(page.get_by_test_id("water")).to_contain_text(first)
    page.keyboard.press("ArrowRight")
    expect(waits).not_to_have_attribute("aria-valuetext", first)
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("waiters")).to_contain_text("Head office")
    page.get_by_role("button", name="Close", exact=True).click()
    page.get_by_role("radio", name="Sat 6 March").click()
    expect(page.get_by_test_id("water")).to_contain_text("Nobody waits on this day")


def test_a_picture_is_taken_away_as_svg_png_and_csv(watched, demo):
    page = watched.open(demo)
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    settled(page)

    def take(picture: str, what: str) -> None:
        name = f"Take the picture away: {picture}"
        page.get_by_role("button", name=name).click()
        page.get_by_role("menu", name=name).get_by_role("menuitem", name=what).click()

    with page.expect_download() as saved:
        take("office 2027-03-01", "Save as SVG")
    assert saved.value.suggested_filename == "office 2027-03-01.svg"
    drawing = ElementTree.parse(saved.value.path()).getroot()
    texts = {text.strip() for text in drawing.itertext() if text.strip()}
    assert {"active", "ready slots", "sessions", "34 ready"} <= texts
    # Nothing in it is asked of a page that is not there.
    written = saved.value.path().read_text()
    assert "var(--" not in written and "class=" not in written
    assert len(drawing.findall(".//{*}pattern")) >= 4
    with page.expect_download() as saved:
        take("hosts office 2027-03-01", "Save as PNG")
    assert saved.value.path().read_bytes().startswith(b"\x89PNG")
    take("office 2027-03-01", "Copy its figures")
    expect(page.get_by_test_id("water").get_by_text("Copied")).to_be_visible()
    head, *rows = page.evaluate("navigator.clipboard.readText()").splitlines()
    assert head.startswith("date,time,active,idle,disconnected") and len(rows) == 288
    assert rows[0].startswith("2027-03-01,00:00,")


def test_lanes_are_zoomed_and_moved(watched, demo):
    page = watched.open(demo, settled)
    lanes = page.get_by_test_id("lanes")
    lanes.scroll_into_view_if_needed()
    # 84 hosts do not fit: they move in a frame of their own and push nothing out of the page.
    inside, all_of_them = lanes.evaluate("(e) => [e.clientHeight, e.scrollHeight]")
    assert inside < 400 and all_of_them >= 84 * 9
    longer = page.get_by_role("button", name="A longer stretch of the day")
    expect(longer).to_be_disabled()
    page.get_by_role("button", name="A shorter stretch of the day").click()
    page.get_by_role("button", name="A shorter stretch of the day").click()
    expect(lanes).to_contain_text("10:00")
    box = lanes.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 300, box["y"] + 30)
    page.mouse.down()
    page.mouse.move(box["x"] + 800, box["y"] + 30, steps=4)
    page.mouse.up()
    expect(lanes).to_contain_text("07:00")
    lanes.focus()
    for _ in range(4):
        page.keyboard.press("-")
    expect(longer).to_be_disabled()


def test_keyboard_only(watched, demo):
    page = watched.open(f"{demo}?band=1", settled)
    page.get_by_label("Headroom in session slots").focus()
    expect(page.get_by_role("tooltip")).to_contain_text("Free session slots to keep open")
    page.get_by_test_id("edge").first.focus()
    expect(page.get_by_role("tooltip")).to_have_count(0)
    for _ in range(6):
        page.keyboard.press("ArrowLeft")
    expect(page.get_by_label("Band begins", exact=True)).to_have_value("08:00")
    page.get_by_test_id("floor").nth(1).focus()
    page.keyboard.press("ArrowUp")
    expect(page.get_by_label("Floor", exact=True)).to_have_value("35")
    page.get_by_test_id("ceiling").nth(1).focus()
    page.keyboard.press("Shift+ArrowDown")
    expect(page.get_by_label("Fill ceiling in per cent")).to_have_value("89")
    page.keyboard.press("End")
    expect(page.get_by_label("Fill ceiling in per cent")).to_have_value("100")
    page.get_by_test_id("edge").first.focus()
    page.keyboard.press("Insert")
    expect(page.get_by_test_id("band")).to_have_count(4)
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("band")).to_have_count(3)
    page.get_by_test_id("day").first.focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_test_id("day").nth(1)).to_have_attribute("aria-checked", "true")
    assert "day=1" in page.url
    lanes = page.get_by_test_id("lanes")
    lanes.focus()
    expect(lanes).to_have_attribute("aria-busy", "false")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_test_id("lane-told")).to_contain_text(re.compile(r"^Host 2 at \d\d:\d\d: "))
    page.keyboard.press("Control+s")
    expect(page.get_by_test_id("words")).to_be_focused()
    page.keyboard.type("by keyboard")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("state")).to_have_text("r2")


def test_a_checked_empty(watched):
    page = watched.open("/")
    page.get_by_test_id("new-name").fill(f"Fresh {uuid4().hex[:8]}")
    page.get_by_test_id("new-plan").click()
    expect(page.get_by_test_id("begin")).to_be_disabled()
    first = page.get_by_test_id("first")
    for label, text in (("People", "180"), ("Time zone", "Europe/Dublin"), ("Start", "9:00")):
        enter(first.get_by_label(label, exact=True), text)
    # Hosts and limit are proposed from the peak and the size, until they are typed.
    hosts, limit = first.get_by_label("Hosts", exact=True), first.get_by_label("Session limit")
    proposal = page.get_by_test_id("proposed")
    expect(proposal).to_contain_text("with one host to spare")
    peak = int(re.search(r"At most (\d+) sessions", proposal.inner_text())[1])
    bears = re.search(r"of this size bears (\d+):", proposal.inner_text())[1]
    expect(limit).to_have_value(bears)
    assert int(bears) > 5
    expect(hosts).to_have_value(str(-(-peak // int(limit.input_value())) + 1))
    enter(limit, "10")
    expect(hosts).to_have_value(str(-(-peak // 10) + 1))
    enter(hosts, "20")
    page.get_by_test_id("begin").click()
    settled(page)
    expect(page.get_by_test_id("sentence")).to_contain_text("of 20 hosts ready")
    expect(page.get_by_test_id("month")).to_contain_text("€")
    # Assumed values stay listed until each is confirmed or changed.
    expect(page.get_by_test_id("unpriced")).to_contain_text("Without disks and licences")
    assumed = page.get_by_role("region", name="Assumed values")
    expect(assumed).to_contain_text("11 values assumed")
    assumed.get_by_role("button", name="So it is: no licence is paid for").click()
    expect(assumed).to_contain_text("10 values assumed")
    expect(assumed).not_to_contain_text("licence")
    page.get_by_test_id("save").click()
    page.get_by_test_id("save-now").click()
    expect(page.get_by_test_id("state")).to_have_text("r2")


def test_the_head_is_whole_with_the_longest_name_and_an_edit(watched):
    name = "Northern Shore Water and the harbour offices with all that they share " * 2
    page = watched.open(watched.own(demo_plan(), name[:100]) + "/board", settled)
    enter(page.get_by_label("Floor", exact=True), "3")
    expect(page.get_by_role("button", name="Back to r1")).to_be_visible()
    head = page.get_by_role("banner")
    for part in (
        head.get_by_role("heading"),
        head.get_by_test_id("save"),
        head.get_by_test_id("theme"),
    ):
        box = part.bounding_box()
        assert box["x"] >= 0 and box["x"] + box["width"] <= 1280, part
        assert part.evaluate("e => e.scrollWidth <= e.clientWidth + 1")
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")


def test_a_clock_change_day_is_marked(watched, demo):
    page = watched.open(demo, settled)
    enter(page.get_by_label("week of", exact=True), "2027-03-24")
    expect(page.get_by_test_id("day").nth(6)).to_contain_text("−1 h")
    page.get_by_test_id("day").nth(6).click()
    expect(page.get_by_test_id("day").nth(6)).to_have_attribute("aria-checked", "true")


def test_numbers_open_their_reasons(watched, demo):
    page = watched.open(demo, settled)
    page.get_by_test_id("gauge-wait").click()
    expect(page.get_by_test_id("why")).to_contain_text("hosts were still starting")
    page.get_by_role("button", name="Who waited on this day").click()
    expect(page.get_by_test_id("waiters")).to_contain_text("Head office")
    page.get_by_role("button", name="Close", exact=True).click()
    page.get_by_role("button", name="Show the cost lines").click()
    expect(page.get_by_test_id("ledger")).to_contain_text("host-hours × 0.412")


def test_every_setting_stands_in_a_sentence(watched, demo):
    page = watched.open(demo, settled)
    page.get_by_test_id("more").click()
    strained = value(page, "strained")
    enter(page.get_by_label("Session limit", exact=True), "12")
    settled(page)
    assert value(page, "strained") != strained
    timeout = page.get_by_label("Disconnected timeout in minutes")
    enter(timeout, "soon")
    expect(page.get_by_role("alert")).to_contain_text("give minutes, or never")
    enter(timeout, "never")
    settled(page)
    expect(page.get_by_label("Disconnected timeout in minutes")).to_have_value("never")


def test_input_that_cannot_be_is_said_beside_it_and_kept(watched, demo):
    page = watched.open(demo, settled)
    ceiling = page.get_by_label("Fill ceiling in per cent")
    enter(ceiling, "140")
    expect(page.get_by_role("alert")).to_contain_text("from 5 to 100")
    expect(ceiling).to_have_value("140")
    page.keyboard.press("Escape")
    expect(ceiling).to_have_value("95")


def test_a_plan_the_server_refuses_keeps_the_last_good_picture(watched, demo):
    watched.allowed = re.compile("422")
    page = watched.open(demo, settled)
    page.get_by_test_id("more").click()
    enter(page.get_by_label("Standing hosts"), "10")
    expect(page.get_by_test_id("problem")).to_contain_text("floor 34 is more than the 10 hosts")
    expect(page.get_by_test_id("month")).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("problem")).to_have_count(0)


def test_an_unsaved_edit_survives_a_reload(watched, demo):
    page = watched.open(demo, settled)
    enter(page.get_by_label("Floor", exact=True), "31")
    page.reload()
    expect(page.locator(".restored")).to_contain_text("unsaved edit was kept")
    expect(page.get_by_label("Floor", exact=True)).to_have_value("31")


def test_the_second_to_save_sees_what_changed(watched, demo, browser):
    watched.allowed = re.compile("412")
    page = watched.open(demo, settled)
    enter(page.get_by_label("Floor", exact=True), "33")
    number = re.search(r"/plans/(\d+)/", demo).group(1)
    plan = page.request.get(f"{watched.site}/api/plans/{number}/document").json()
    plan["promise"]["wait_p95_seconds"] = 45
    other = page.request.put(
        f"{watched.site}/api/plans/{number}",
        headers={"If-Match": '"1"', "Content-Type": "application/json"},
        data=json.dumps({"plan": plan, "words": "stricter", "author": "ben"}),
    )
    assert other.status == 200
    page.get_by_test_id("save").click()
    page.get_by_test_id("save-now").click()
    dialog = page.get_by_test_id("conflict")
    expect(dialog).to_contain_text("ben saved revision 2 since: stricter")
    expect(dialog).to_contain_text("/promise/wait_p95_seconds")
    page.get_by_test_id("merge").click()
    page.get_by_test_id("save").click()
    page.get_by_test_id("save-now").click()
    expect(page.get_by_test_id("state")).to_have_text("r3")
    expect(page.get_by_label("Floor", exact=True)).to_have_value("33")
    expect(page.get_by_test_id("gauge-wait")).to_contain_text("promised 45 s")
