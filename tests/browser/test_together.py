"""Two people at one engine: each sees what the other enters, and nothing that is being typed is lost."""

import re

import pytest
from playwright.sync_api import expect

TESTS = "/engines/resurfacer-1/visits/v8/tests"
DRY = "dry, cylinder 2"


@pytest.fixture
def two(page, server, context):
    """Two open pages of the application, as on two devices."""
    other = context.new_page()
    for one in (page, other):
        # Both listen before anything is entered.
        with one.expect_response(re.compile("/live")):
            one.goto(f"{server.address}{TESTS}")
    yield page, other
    other.close()


def test_what_one_enters_shows_on_the_others_page_and_says_who(two):
    mine, theirs = two
    theirs.get_by_label(DRY).fill("1050")
    theirs.keyboard.press("Enter")
    expect(mine.get_by_text("Somebody else (this machine): cylinder test")).to_be_visible()
    expect(mine.get_by_label(DRY)).to_have_value("1050")


def test_what_is_being_typed_stays_and_overwrites_nothing_unseen(two):
    mine, theirs = two
    mine.get_by_label(DRY).fill("990")
    theirs.get_by_label(DRY).fill("1050")
    theirs.keyboard.press("Enter")
    expect(mine.get_by_text("Somebody else (this machine)")).to_be_visible()
    expect(mine.get_by_label(DRY)).to_have_value("990")
    mine.get_by_label(DRY).press("Enter")
    expect(mine.get_by_role("alert")).to_contain_text("has been changed to 1050")
    expect(mine.get_by_label(DRY)).to_have_value("990")
    # Sent once more, it is meant.
    mine.get_by_label(DRY).press("Enter")
    expect(mine.get_by_role("alert")).to_have_count(0)
    expect(theirs.get_by_label(DRY)).to_have_value("990")


def test_a_reloaded_page_is_told_of_others_changes_and_not_of_its_own(two):
    mine, theirs = two
    mine.add_init_script("""
        window.news = [];
        new MutationObserver(() => {
            const said = document.querySelector('[aria-live] b');
            if (said) news.push(said.parentElement.textContent);
        }).observe(document, { childList: true, subtree: true });
    """)
    mine.get_by_label(DRY).fill("1010")
    mine.keyboard.press("Enter")
    expect(theirs.get_by_label(DRY)).to_have_value("1010")
    with mine.expect_response(re.compile("/live")):
        mine.reload()
    theirs.get_by_label("dry, cylinder 3").fill("1100")
    theirs.keyboard.press("Enter")
    expect(mine.get_by_label("dry, cylinder 3")).to_have_value("1100")
    expect(mine.get_by_text("Somebody else (this machine): cylinder test")).to_be_visible()
    # Two would be one from before the reload.
    assert len(set(mine.evaluate("news"))) == 1
