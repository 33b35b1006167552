"""What must not be: each gives a stop or an error that says what, where and what to do; nothing is half
stored."""

import json

import pytest
from selenium.webdriver.common.keys import Keys


@pytest.fixture
def planning(person):
    """Tam's own sortie for Petra, at Plan."""
    person.log_in("tam", at="")
    number = person.coming("Petra")
    person.go(f"/sorties/{number}/plan")
    person.sees("Height to spend")
    return person, number


def stored(person, number):
    """What the server has."""
    return json.loads(
        person.browser.execute_async_script(
            f"fetch('/api/sorties/{number}').then(r => r.text()).then(arguments[0])"
        )
    )


def put(person, number, body):
    """A save past the page, as another browser would make it."""
    call = """const [id, body, done] = arguments;
      const token = document.cookie.split('csrftoken=')[1].split(';')[0];
      const headers = {'Content-Type': 'application/json', 'X-CSRFToken': token};
      const request = {method: 'PUT', headers, body: JSON.stringify(body)};
      fetch('/api/sorties/' + id, request).then(r => done(r.status));"""
    return person.browser.execute_async_script(call, number, body)


def stop(person, words):
    person.until(lambda: person.all(f"//*[@data-check][.//*[@aria-label='stop']][contains(., \"{words}\")]"))


@pytest.mark.long
def test_what_must_not_be_is_a_stop_that_says_what_where_and_what_to_do(planning):
    """One after the other in one plan."""
    person, _ = planning
    person.type("Entry, kt", "190")
    stop(person, "Enters at 190 kt; Vne is 172 kt.")
    person.type("Start, ft", "3200")
    stop(person, "no height for the instructor's recovery")
    person.sees("Starts at 3,200 ft; the lowest start that leaves the instructor's recovery above the floor")
    person.press("Place")
    person.type("My own floor", "1200")
    stop(person, "under the regulation's 1,510 ft. Raise it")
    person.sees("Floor 3,010 ft: be level above this")
    person.press("Aircraft and load")
    person.type("Left seat", "270")
    person.type("Right seat", "255")
    stop(person, "over: take out fuel or baggage")
    stop(person, "in a seat for 260 lb")
    person.choose("Aircraft", "QX-BRO")
    stop(person, "One-turn spin, left not approved")
    stop(person, "It is not among the approved figures on the card of")
    assert not person.button("Brief when the stops are cleared").is_enabled()


NOT_TAKEN = (
    (None, "Start, ft", "90000", "90,000 is too much: give 0 to 30,000."),
    (None, "Start, ft", "4.500", "'4.500' could be 4500 or 4.5: write one of them."),
    (None, "Start, ft", "high", "'high' is not a number: write it as 4500 or 1.5."),
    (None, "Start, ft", "", "Write a number."),
    (None, "Bank, deg", "88", "88 is too much: give 30 to 65."),
    ("Day", "QNH", "29.92", "29.92 is too little: give 900 to 1,080."),
    ("Aircraft and load", "Left seat", "-50", "−50 is too little: give 0 to 500."),
    (None, "Fuel, Centre", "90", "90 is too much: give 0 to 26."),
)


def test_what_cannot_be_taken_stays_where_it_was_typed_and_nothing_of_it_is_stored(planning):
    person, number = planning
    before = stored(person, number)
    for tab, label, typed, words in NOT_TAKEN:
        if tab is not None:
            person.press(tab)
        person.type(label, typed)
        person.sees(words)
        person.sees(f"Not stored: {label.removesuffix(', ft').removesuffix(', deg')}")
        # The stage is not left with it.
        person.press("Brief")
        person.sees("Correct it, or press Esc in the field.")
        now = stored(person, number)
        assert (now["plan"], now["version"]) == (before["plan"], before["version"])
        assert person.field(label).get_attribute("value") == typed
        person.field(label).send_keys(Keys.ESCAPE)
        person.stored()


@pytest.mark.long
def test_a_number_is_read_however_it_is_written(planning):
    person, number = planning
    for typed, feet in (("4 500", 4500), ("4,510", 4510), ("4.520,00", 4520), ("4530.5", 4530.5)):
        person.type("Start, ft", typed)
        person.until(lambda ft=feet: stored(person, number)["plan"]["figures"][0]["start_ft"] == ft)


def network(person, on):
    away = {"offline": not on, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}
    person.browser.execute_cdp_cmd("Network.enable", {})
    person.browser.execute_cdp_cmd("Network.emulateNetworkConditions", away)


def test_a_verdict_is_never_older_than_what_it_judges(planning):
    person, number = planning
    person.sees("2 to mind")
    network(person, on=False)
    try:
        person.type("Start, ft", "3100")
        person.sees("Heights and verdicts are of an earlier draft: the server does not answer.")
        person.sees("not known for this draft")
        person.does_not_see("2 to mind")
        assert not person.button("Brief when the heights are computed").is_enabled()
        person.sees("Offline: kept here, not sent")
    finally:
        network(person, on=True)
    stop(person, "no height for the instructor's recovery")
    person.does_not_see("of an earlier draft")
    person.stored()
    assert stored(person, number)["plan"]["figures"][0]["start_ft"] == 3100


def test_a_stage_that_cannot_be_fetched_says_so_and_comes_when_it_can(person):
    blocked = person.browser.execute_cdp_cmd
    blocked("Network.enable", {})
    blocked("Network.clearBrowserCache", {})
    blocked("Network.setBlockedURLs", {"urls": ["*/assets/Fleet-*"]})
    try:
        person.log_in("tam")
        person.press("Fleet and places")
        person.sees("Offline: the fleet could not be fetched.")
        person.press("Today")
        person.sees("Signed lately")
        person.press("Fleet and places")
        person.sees("Offline: the fleet could not be fetched.")
    finally:
        blocked("Network.setBlockedURLs", {"urls": []})
    person.press("Try again")
    person.sees("School standards")


@pytest.mark.long
def test_a_session_that_ends_is_taken_up_again_inside_the_page(planning):
    person, number = planning
    person.browser.delete_cookie("sessionid")
    person.type("Start, ft", "4300")
    person.sees("Your session has ended")
    person.type("Name to log in", "tam")
    person.type("Password", "height-is-the-budget")
    person.press("Log in")
    person.does_not_see("Your session has ended")
    person.stored()
    assert stored(person, number)["plan"]["figures"][0]["start_ft"] == 4300


@pytest.mark.long
def test_heights_that_cannot_be_are_kept_and_said(person):
    """A lowest height above the start: what was noted stays, and Debrief says what is wrong with it."""
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    person.go(f"/sorties/{number}/fly")
    person.take("At the gate")
    person.press("lowest")
    person.take("Lowest", *[Keys.PAGE_UP] * 14)
    person.press("feel")
    person.press("Feel 7")
    person.until(lambda: [a["feel"] for a in stored(person, number)["attempts"]] == [7])
    noted = stored(person, number)["attempts"][0]
    assert noted["lowest_ft"] > noted["start_ft"]
    person.keys("4")
    person.sees("ft is above start")


def test_a_stop_is_overridden_only_with_a_reason_that_stays(planning):
    person, number = planning
    person.press("Day")
    person.type("Visibility", "2")
    stop(person, "3.0 SM asked for")
    person.press("Override")
    assert not person.all("//*[@role='dialog']//button[.='Override']")[0].is_enabled()
    person.one("//*[@role='dialog']//textarea").send_keys("Tower reports 4 SM to the west")
    person.click("//*[@role='dialog']//button[.='Override']")
    person.sees("Overridden. Tam Ferrand, for 1.0 SM short: Tower reports 4 SM to the west")
    person.stored()
    assert stored(person, number)["plan"]["overrides"][0]["by"] == "Tam Ferrand"
    person.press("Withdraw the override")
    stop(person, "3.0 SM asked for")
    person.undo()
    person.sees("Overridden. Tam Ferrand")
    person.stored()
    # Further beyond the limit it is a new stop.
    person.type("Visibility", "1.5")
    person.sees("The override of Tam Ferrand was for 1.0 SM short.")
    person.stored()


def test_somebody_elses_save_is_put_together_with_ours_and_asked_about_where_both_changed_the_same(planning):
    person, number = planning
    found = stored(person, number)
    found["plan"]["figures"][1]["start_ft"] = 4444
    assert put(person, number, {"version": found["version"], "plan": found["plan"]}) == 200
    # Of another figure: both are kept.
    person.type("Start, ft", "4200")
    person.sees("changed this sortie too")
    person.sees("Power-off stall: Start")
    person.stored()
    kept = stored(person, number)
    assert [f["start_ft"] for f in kept["plan"]["figures"][:2]] == [4200, 4444]
    # Of the same: a person chooses.
    kept["plan"]["figures"][0]["start_ft"] = 4600
    assert put(person, number, {"version": kept["version"], "plan": kept["plan"]}) == 200
    person.type("Start, ft", "4300")
    person.sees("changed the same at")
    person.press("4,600")
    person.press("Store these")
    person.stored()
    person.until(lambda: stored(person, number)["plan"]["figures"][0]["start_ft"] == 4600)
    # What was taken of theirs is not undone without a question.
    person.undo()
    person.sees("Take back what")
    person.press("Leave it")


def test_a_wrong_password_at_the_door(person):
    person.go("/")
    person.type("Name to log in", "tam")
    person.type("Password", "guess")
    person.press("Log in")
    person.sees("name and password do not belong together. Check both; capitals count.")
