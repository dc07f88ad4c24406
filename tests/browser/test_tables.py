"""Parts of the plan side by side: sorted, filtered, edited, pasted and copied."""

import re

from playwright.sync_api import expect

from tests.browser.looking import enter, nothing_serious


def cells(page, head):
    return [box.input_value() for box in page.get_by_label(re.compile(f"^{head} of ")).all()]


def test_settings_of_all_pools_are_sorted_filtered_and_edited(watched, demo):
    page = watched.open(f"{demo.replace('/board', '/pools')}?show=settings")
    table = page.get_by_role("region", name="Settings of all pools")
    sessions = table.get_by_role("columnheader", name="Sessions")
    sessions.get_by_role("button").click()
    expect(sessions).to_have_attribute("aria-sort", "ascending")
    assert cells(page, "Sessions") == ["1", "1", "1", "8", "14", "16", "18"]
    nothing_serious(page)
    # The arrows go from cell to cell.
    first = page.get_by_label("Sessions of Counters")
    first.focus()
    first.press("ArrowDown")
    expect(page.get_by_label("Sessions of Office")).to_be_focused()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_label("Standing of Office")).to_be_focused()
    enter(page.get_by_label("Sessions of Office"), "13")
    enter(page.get_by_label("Idle of Office"), "never")
    expect(page.get_by_test_id("state")).to_contain_text("edited")
    page.get_by_role("searchbox").fill("sloop 13")
    expect(table.get_by_role("row")).to_have_count(2)
    expect(page.get_by_label("Idle of Office")).to_have_value("never")


def test_a_column_is_pasted_from_a_spreadsheet_all_or_nothing(watched, demo):
    page = watched.open(f"{demo.replace('/board', '/pools')}?show=settings")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.get_by_role("button", name="Copy as CSV").click()
    expect(page.get_by_text("7 rows are copied as CSV")).to_be_visible()
    copied = page.evaluate("navigator.clipboard.readText()")
    assert copied.splitlines()[0].startswith("Pool,Size,Sessions,Standing")
    assert copied.splitlines()[2].startswith("Line,Sloop,16,32")

    def paste(text):
        page.evaluate("(text) => navigator.clipboard.writeText(text)", text)
        page.get_by_label("Standing of Line").focus()
        page.keyboard.press("Control+V")

    paste("40\r\nmany\r\n")
    preview = page.get_by_test_id("pasted")
    expect(preview).to_contain_text("1 cannot be: nothing is changed")
    expect(preview.get_by_role("button", name="Take them all")).to_be_disabled()
    preview.get_by_role("button", name="Leave it").click()
    paste("40\r\n20\r\n")
    preview.get_by_role("button", name="Take them all").click()
    expect(page.get_by_label("Standing of Line")).to_have_value("40")
    expect(page.get_by_label("Standing of Field")).to_have_value("20")
    # It is one edit.
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Standing of Line")).to_have_value("32")


def test_disks_images_and_licences_are_added_on_the_page(watched, demo):
    page = watched.open(demo.replace("/board", "/hosts"))
    lists = page.get_by_test_id("lists")
    for show, word in (("disk", "disk"), ("image", "image"), ("licence", "licence")):
        lists.get_by_test_id(f"show-{show}").click()
        before = lists.get_by_role("row").count()
        lists.get_by_test_id(f"add-{word}").click()
        expect(lists.get_by_role("row")).to_have_count(before + 1)
        name = lists.get_by_label(f"Name of the {word}").last
        expect(name).to_be_focused()
        enter(name, f"Neuer Größe {word}")
    lists.get_by_test_id("show-disk").click()
    enter(lists.get_by_label("A month, host on of Neuer Größe disk"), "12.5")
    expect(lists.get_by_label("A month, host on of Neuer Größe disk")).to_have_value("12.5")


def test_bands_of_all_kinds_of_day_are_edited_side_by_side(watched, demo):
    page = watched.open(f"{demo}?pool=office&band=1")
    page.get_by_test_id("as-table").click()
    dialog = page.get_by_test_id("schedule-table")
    floor = dialog.get_by_label("Floor of Workday, from 08:30")
    before = floor.input_value()
    enter(floor, str(int(before) + 1))
    nothing_serious(page)
    page.keyboard.press("Escape")
    page.get_by_test_id("as-table").click()
    expect(floor).to_have_value(str(int(before) + 1))


def test_the_palette_goes_anywhere_and_a_sheet_has_all_keys(watched, demo):
    page = watched.open(demo)
    page.locator("body").press("Control+k")
    asked = page.get_by_role("combobox", name="Go to, or do")
    expect(asked).to_be_focused()
    nothing_serious(page)
    asked.fill("line: hosts")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile("/hosts.*pool=line"))
    expect(page.get_by_test_id("pool")).to_have_value("line")
    page.locator("body").press("Control+k")
    asked.fill("head")
    page.keyboard.press("Enter")
    page.wait_for_url(re.compile("/people.*group=head-office"))
    page.locator("body").press("?")
    expect(page.get_by_test_id("keys")).to_contain_text("go to a view, a pool or a group")


def test_groups_are_scanned_edited_and_looked_at_from_their_table(watched, demo):
    page = watched.open(demo.replace("/board", "/people"))
    table = page.get_by_role("region", name="Groups")
    people = table.get_by_role("columnheader", name="People")
    people.get_by_role("button").click()
    people.get_by_role("button").click()
    expect(people).to_have_attribute("aria-sort", "descending")
    found = [int(each) for each in cells(page, "People") if each]
    assert found == sorted(found, reverse=True) and len(found) > 3
    first = table.get_by_label(re.compile("^People of ")).first
    name = first.get_attribute("aria-label").removeprefix("People of ")
    enter(first, str(found[0] + 10))
    expect(table.get_by_label(f"People of {name}", exact=True)).to_have_value(str(found[0] + 10))
    nothing_serious(page)
    table.get_by_role("button", name=name, exact=True).click()
    expect(page.get_by_label("Name of the group")).to_have_value(name)
