"""A company of three pools is built from nothing on the page, as a person would, in few actions."""

import re
from uuid import uuid4

from playwright.sync_api import Locator, Page, expect

#: Clicks, choices and typed values that it may take.
MOST_ACTIONS = 40


class Hand:
    """Does what a person does, and counts it: a value with its Enter is one action."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.actions = 0

    def click(self, what: Locator) -> None:
        self.actions += 1
        what.click()

    def button(self, name: str) -> None:
        self.click(self.page.get_by_role("button", name=name, exact=True))

    def go(self, view: str) -> None:
        self.click(self.page.get_by_role("link", name=re.compile(f"^{view}")))

    def enter(self, field: Locator, text: str) -> None:
        self.actions += 1
        field.fill(text)
        field.press("Enter")

    def name_it(self, what: str, name: str) -> None:
        """Type over the name of what was added: it is selected already."""
        self.actions += 1
        field = self.page.get_by_label(f"Name of the {what}").and_(self.page.locator(":focus"))
        expect(field).to_be_focused()
        self.page.keyboard.type(name)
        self.page.keyboard.press("Enter")

    def choose(self, label: str, text: str) -> None:
        self.actions += 1
        self.page.get_by_label(label, exact=True).first.select_option(label=text)


def begin(hand: Hand) -> None:
    page = hand.page
    hand.enter(page.get_by_label("A new plan called"), f"Firth & Söhne {uuid4().hex[:6]}")
    hand.enter(page.get_by_label("People", exact=True), "600")
    expect(page.get_by_test_id("proposed")).to_be_visible()
    hand.button("See the week")


def estate(hand: Hand) -> None:
    """A disk, an image, and a place with a line to the site."""
    page = hand.page
    hand.go("Hosts")
    lists = page.get_by_test_id("lists")
    for what, name in (("disk", "System disk"), ("image", "Office image")):
        hand.click(lists.get_by_role("radio", name=f"{what}s"))
        hand.button(f"Add {'an' if what == 'image' else 'a'} {what}")
        hand.name_it(what, name)
        if what == "disk":
            hand.enter(lists.get_by_label("A month, host on of System disk"), "9.50")
    hand.click(lists.get_by_role("radio", name="places"))
    hand.button("Add a place")
    hand.name_it("place", "North hall")
    hand.click(page.get_by_role("button", name=re.compile("line to Main site")))
    hand.enter(page.get_by_label("Round trip to Main site"), "12")


def another_pool(hand: Hand, pool: str, hosts: str, group: str, people: str) -> None:
    """A copy of the pool that is looked at, and people of its own."""
    page = hand.page
    hand.button("Copy it")
    hand.name_it("pool", pool)
    hand.enter(page.get_by_label("Standing hosts", exact=True), hosts)
    hand.go("People")
    hand.button("Add a group")
    hand.enter(page.get_by_label("Name of the group"), group)
    # The group that was added is the one that is looked at.
    expect(page.get_by_label("Name of the group")).to_have_value(group)
    hand.enter(page.get_by_label("People", exact=True), people)
    hand.choose("Pool", pool)
    hand.go("Pools")


def test_a_company_of_three_pools_is_built_in_few_actions(watched):
    hand = Hand(watched.open("/"))
    page = hand.page
    begin(hand)
    estate(hand)
    hand.go("Pools")
    for label, text in (
        ("Disk", "System disk"),
        ("Image", "Office image"),
        ("Place", "North hall"),
    ):
        hand.choose(label, text)
    another_pool(hand, "Counters", "12", "Counter staff", "120")
    another_pool(hand, "Night desk", "6", "Watch", "40")
    hand.click(page.get_by_test_id("save"))
    hand.click(page.get_by_test_id("save-now"))
    assert hand.actions <= MOST_ACTIONS, hand.actions
    # What is left to find is the promise of each pool, for the Tuner to mend.
    page.get_by_role("link", name=re.compile("^Checks")).click()
    sentence = page.get_by_test_id("checks-sentence")
    expect(sentence).to_have_text(re.compile(r"3 of\s+3 findings"))
    expect(page.get_by_test_id("finding")).to_have_count(3)
    for pool in ("Shared desktops", "Counters", "Night desk"):
        finding = page.get_by_test_id("finding").filter(has_text=f"pool '{pool}'")
        expect(finding).to_contain_text("breaks its promise")
