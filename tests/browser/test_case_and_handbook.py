"""A case with its next test, and the handbook, driven in the real page."""

import re

from playwright.sync_api import expect

GROOMER = "/engines/groomer/cases/c1"


def test_the_next_test_says_what_it_would_do_and_doing_it_changes_the_picture(watched, server):
    page = watched
    page.goto(server.address + GROOMER)
    first = page.get_by_role("listitem").filter(has_text="look at the threads")
    expect(first).to_contain_text("2 min")
    expect(first).to_contain_text(re.compile(r"lock nut loose, 4I \(\d+\s%\): then lock nut let go, 4I"))
    # What was seen is found by typing, and the causes follow.
    page.get_by_label("Find what was seen or heard").fill("copper")
    flakes = page.get_by_role("group", name="copper")
    flakes.get_by_role("radio", name="yes", exact=True).press("Space")
    page.get_by_label("Find what was seen or heard").fill("deep knock")
    knock = page.get_by_role("group", name="deep")
    knock.get_by_role("radio", name="yes", exact=True).press("Space")
    page.get_by_role("button", name=re.compile("^bearing failing")).click()
    expect(page.get_by_text("Do not run or crank the engine", exact=False)).to_be_visible()
    expect(page.get_by_text("watch the cranking speed")).to_have_count(0)


def test_a_cause_leads_to_its_page_of_the_handbook(watched, server):
    page = watched
    page.goto(server.address + GROOMER)
    page.get_by_role("link", name="In the handbook").click()
    expect(page).to_have_url(re.compile("/handbook#adjuster-backed-off$"))
    expect(page.get_by_role("heading", name="Handbook", exact=True)).to_be_visible()
    page.get_by_label("Find in it").fill("lock nut")
    expect(page.get_by_role("heading", name=re.compile("^lock nut let go"))).to_be_visible()
    expect(page.get_by_role("heading", name=re.compile("^head gasket leaking"))).to_have_count(0)
    page.get_by_text("What speaks for it and against it").first.click()
    expect(page.get_by_text("One screw turns, the others hold.").first).to_be_visible()
    page.reload()
    expect(page.get_by_label("Find in it")).to_have_value("lock nut")
