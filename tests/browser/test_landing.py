"""An edit lands where it was meant: late answers, two pages, held handles, files."""

import json
import re

import pytest
from playwright.sync_api import Page, Route, expect

from idle_harbor.demo.scenario import demo_plan
from idle_harbor.launch.frontend import FOLDER, build_frontend
from tests.browser.looking import enter, hold, settled

GRIP = (0.9, 21)


@pytest.fixture
def board(watched, demo) -> Page:
    return watched.open(demo, settled)


def floor(page: Page):
    return page.get_by_label("Floor", exact=True)


def state(page: Page):
    return expect(page.get_by_test_id("state"))


def save(page: Page) -> None:
    page.get_by_test_id("save").click()
    page.get_by_test_id("save-now").click()


def held(page: Page, path: str, method: str) -> list[Route]:
    """Requests that are held back from now on, until a test lets them go."""
    found: list[Route] = []

    def take(route: Route) -> None:
        if route.request.method == method:
            found.append(route)
        else:
            route.fallback()

    page.route(path, take)
    return found


def wait_for(page: Page, found: list[Route]) -> Route:
    """The first request that is held back."""
    for _ in range(300):
        if found:
            return found[0]
        page.wait_for_timeout(50)
    raise AssertionError("nothing was asked")


def let_go(page: Page, path: str, found: list[Route]) -> None:
    """Let go what is held back, and hold nothing back any more."""
    for route in found:
        route.continue_()
    page.unroute(path)


def test_a_save_that_is_answered_late_is_that_of_its_own_plan(watched, board, demo):
    other = watched.own(demo_plan(), "Other")
    enter(floor(board), "31")
    saves = held(board, "**/api/plans/*", "PUT")
    save(board)
    late = wait_for(board, saves)
    # Within the page, as a link in it would.
    board.evaluate(
        """to => {
            history.pushState(history.state, '', to)
            dispatchEvent(new PopStateEvent('popstate', { state: history.state }))
        }""",
        f"{other}/board",
    )
    expect(board.get_by_role("heading", level=1)).to_contain_text("Other")
    settled(board)
    late.continue_()
    board.wait_for_timeout(300)
    state(board).to_have_text("r1")
    expect(floor(board)).not_to_have_value("31")
    watched.open(demo, settled)
    state(board).to_have_text("r2")
    expect(floor(board)).to_have_value("31")


def test_two_pages_keep_an_edit_each_and_the_second_merges_what_the_first_saved(watched, demo):
    watched.allowed = re.compile("412")
    one = watched.open(demo, settled)
    two = one.context.new_page()
    two.goto(watched.site + demo)
    settled(two)
    enter(floor(one), "31")
    enter(two.get_by_label("Fill ceiling in per cent"), "70")
    expect(floor(two)).not_to_have_value("31")
    two.get_by_test_id("undo").click()
    state(two).to_have_text("r1")
    one.reload()
    expect(floor(one)).to_have_value("31")
    two.get_by_test_id("redo").click()
    save(one)
    state(one).to_have_text("r2")
    expect(two.get_by_test_id("newer")).to_contain_text("r2 was saved")
    two.get_by_role("button", name="Look at both").click()
    two.get_by_test_id("merge").click()
    expect(floor(two)).to_have_value("31")
    expect(two.get_by_label("Fill ceiling in per cent")).to_have_value("70")
    save(two)
    state(two).to_have_text("r3")


def test_back_to_a_revision_asks_means_that_revision_and_can_be_undone(board):
    enter(floor(board), "31")
    save(board)
    state(board).to_have_text("r2")
    enter(floor(board), "35")
    board.get_by_role("button", name="Back to r2").click()
    board.get_by_role("button", name="Stay").click()
    expect(floor(board)).to_have_value("35")
    board.get_by_role("button", name="Back to r2").click()
    board.get_by_role("button", name="Go back").click()
    expect(floor(board)).to_have_value("31")
    state(board).to_have_text("r2")
    board.get_by_test_id("undo").click()
    expect(floor(board)).to_have_value("35")


def test_a_handle_that_is_held_on_leaving_changes_nothing(board):
    before = floor(board).input_value()
    hold(board, board.get_by_role("slider", name="Floor of band 2"), 0, -40, GRIP)
    expect(floor(board)).not_to_have_value(before)
    board.keyboard.press("6")
    expect(board).to_have_url(re.compile("/tuner"))
    board.mouse.up()
    state(board).to_have_text("r1")
    board.get_by_role("link", name="Board", exact=True).click()
    settled(board)
    expect(floor(board)).to_have_value(before)
    state(board).to_have_text("r1")


def test_a_drag_goes_on_where_the_server_fails_and_ends_as_an_edit(watched, board):
    watched.allowed = re.compile("500")
    before = floor(board).input_value()
    wrong = {
        "type": "x",
        "title": "It broke",
        "status": 500,
        "detail": "",
        "remedy": "",
        "faults": [],
    }
    board.route(
        "**/api/simulations/week",
        lambda route: route.fulfill(
            status=500, body=json.dumps(wrong), content_type="application/problem+json"
        ),
    )
    hold(board, board.get_by_role("slider", name="Floor of band 2"), 0, -40, GRIP)
    expect(board.get_by_test_id("problem")).to_contain_text("It broke")
    board.keyboard.press("Escape")
    board.mouse.up()
    expect(floor(board)).to_have_value(before)
    state(board).to_have_text("r1")
    board.unroute("**/api/simulations/week")
    enter(floor(board), "33")
    settled(board)
    expect(board.get_by_test_id("problem")).to_have_count(0)


def test_an_edit_of_the_server_that_lands_during_a_drag_keeps_both(board):
    handle = board.get_by_role("slider", name="Floor of band 2")
    before = int(handle.get_attribute("aria-valuenow"))
    bands = board.get_by_test_id("band-handles")
    many = bands.count()
    edits = held(board, "**/api/plans/edit", "POST")
    board.get_by_role("slider", name="Band 3 begins").press("Insert")
    late = wait_for(board, edits)
    hold(board, handle, 0, -40, GRIP)
    expect(floor(board)).not_to_have_value(str(before))
    late.continue_()
    expect(bands).to_have_count(many + 1)
    board.mouse.up()
    settled(board)
    expect(bands).to_have_count(many + 1)
    assert int(handle.get_attribute("aria-valuenow")) > before
    board.get_by_test_id("undo").click()
    expect(handle).to_have_attribute("aria-valuenow", str(before))
    expect(bands).to_have_count(many + 1)
    board.get_by_test_id("undo").click()
    expect(bands).to_have_count(many)
    state(board).to_have_text("r1")


def test_a_pool_that_cannot_be_simulated_leaves_no_picture_of_another(watched):
    watched.allowed = re.compile("422")
    plan = demo_plan()
    line = next(pool for pool in plan["pools"] if pool["id"] != plan["pools"][0]["id"])
    page = watched.open(f"{watched.own(plan, 'Broken')}/board", settled)
    page.route(
        "**/api/simulations/week",
        lambda route: route.fulfill(status=422, body="{}", content_type="application/problem+json"),
    )
    page.get_by_test_id("pool").select_option(line["id"])
    expect(page.get_by_test_id("problem")).to_be_visible()
    # Neither the picture of the pool before nor a handle that would change this one.
    expect(page.get_by_role("slider")).to_have_count(0)
    page.unroute("**/api/simulations/week")
    enter(page.get_by_label("week of", exact=True), "2027-04-05")
    expect(page.get_by_role("slider", name="Floor of band 2")).to_be_visible()


def test_nothing_of_another_pool_or_week_is_shown_while_one_is_asked_for(watched, board):
    slider = board.get_by_role("slider")
    expect(slider.first).to_be_visible()
    weeks = held(board, "**/api/simulations/week", "POST")
    board.get_by_test_id("pool").select_option("line")
    wait_for(board, weeks)
    expect(slider).to_have_count(0)
    expect(board.get_by_test_id("gauge-wait")).to_have_count(0)
    let_go(board, "**/api/simulations/week", weeks)
    settled(board)
    expect(slider.first).to_be_visible()


def test_a_plan_file_becomes_a_plan_and_another_file_is_refused(watched, tmp_path):
    page = watched.open("/")
    file = tmp_path / "pier.json"
    file.write_text("not a plan")
    page.get_by_label("take a plan file").set_input_files(file)
    expect(page.get_by_test_id("problem")).to_contain_text("pier.json")
    file.write_text(json.dumps({**demo_plan(), "name": "Pier plan"}))
    page.get_by_label("take a plan file").set_input_files(file)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Pier plan")
    settled(page)
    state(page).to_have_text("r1")


def test_a_cold_board_is_at_most_200_kilobytes_over_the_line(watched, demo):
    page = watched.page
    line = page.context.new_cdp_session(page)
    line.send("Network.enable")
    # Other tests have filled the window's cache.
    line.send("Network.setCacheDisabled", {"cacheDisabled": True})
    sizes: list[float] = []
    line.on("Network.loadingFinished", lambda event: sizes.append(event["encodedDataLength"]))
    watched.open(demo, settled)
    page.wait_for_load_state("networkidle")
    assert len(sizes) > 10
    assert sum(sizes) <= 200_000


def test_all_scripts_and_styles_are_at_most_230_kilobytes_compressed():
    build_frontend()
    made = FOLDER / "dist"
    texts = [each for each in made.rglob("*") if each.suffix in {".js", ".css", ".html"}]
    packed = [each.with_name(f"{each.name}.br") for each in texts]
    assert len(texts) > 10
    sizes = [
        (two if two.exists() else one).stat().st_size
        for one, two in zip(texts, packed, strict=True)
    ]
    assert sum(sizes) <= 230_000
