"""What must not be: each gives a stop or an error that says what, where and what to do; nothing is half
stored."""

import json

import pytest


@pytest.fixture
def planning(person):
    """Tam's own sortie for Petra, at Plan."""
    person.log_in("tam")
    person.one("//p[contains(., 'Petra Lindqvale')]/ancestor::*[.//a][1]//a").click()
    person.press("Plan")
    person.sees("Height to spend")
    person.until(lambda: "/sorties/" in person.browser.current_url)
    return person, person.browser.current_url.split("/sorties/")[1].split("/")[0]


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


def test_an_aircraft_that_is_not_approved_for_spins(planning):
    person, _ = planning
    person.press("Aircraft and load")
    person.choose("Aircraft", "QX-BRO")
    stop(person, "One-turn spin, left not approved")
    stop(person, "does not approve this figure. Choose another aircraft or another figure.")
    assert not person.button("Brief when the stops are cleared").is_enabled()


def test_a_load_over_the_aerobatic_weight(planning):
    person, _ = planning
    person.press("Aircraft and load")
    person.type("Left seat", "270")
    person.type("Right seat", "255")
    stop(person, "over: take out fuel or baggage")
    stop(person, "placarded 260 lb")


def test_a_start_below_the_lowest(planning):
    person, _ = planning
    person.sees("Steep turn 60°, left")
    person.type("Start, ft", "3200")
    stop(person, "ends below the floor")
    person.sees("Starts at 3,200 ft; the lowest start that keeps the floor 19 times in 20 is")


def test_a_floor_under_the_regulation(planning):
    person, _ = planning
    person.press("Place")
    person.type("My own floor", "1200")
    stop(person, "under the regulation's 1,510 ft. Raise it")
    person.sees("Floor 3,010 ft: be level above this")


def test_a_speed_above_vne(planning):
    person, _ = planning
    person.type("Entry, kt", "190")
    stop(person, "Enters at 190 kt; Vne is 172 kt.")


@pytest.mark.parametrize(
    ("tab", "label", "typed", "words"),
    [
        ("Aircraft and load", "Left seat", "-50", "-50 is below 0"),
        (None, "Start, ft", "90000", "90,000 is above 30,000"),
        ("Day", "QNH", "29.92", "29.92 is below 900"),
        (None, "Bank, deg", "88", "88 is outside 30 to 65 deg"),
        ("Aircraft and load", "Fuel, Centre", "90", "90 is outside 0 to 26 US gal usable"),
    ],
)
def test_absurd_values_are_refused_and_nothing_of_them_is_stored(planning, tab, label, typed, words):
    person, number = planning
    before = stored(person, number)
    if tab is not None:
        person.press(tab)
    person.type(label, typed)
    person.sees(words)
    person.sees("Not stored.")
    person.sees("Not stored: see above")
    now = stored(person, number)
    assert (now["plan"], now["version"]) == (before["plan"], before["version"])
    person.undo()
    person.stored()


@pytest.mark.parametrize(("typed", "words"), [("high", "'high' is not a number."), ("", "Write a number.")])
def test_text_in_a_number_is_said_at_once(planning, typed, words):
    person, number = planning
    before = stored(person, number)
    person.type("Start, ft", typed)
    person.sees(words)
    assert stored(person, number)["plan"] == before["plan"]


def test_a_stop_is_overridden_only_with_a_reason_that_stays(planning):
    person, number = planning
    person.press("Day")
    person.type("Visibility", "2")
    stop(person, "3.0 SM asked for")
    person.press("Override")
    assert not person.all("//*[@role='dialog']//button[.='Override']")[0].is_enabled()
    person.one("//*[@role='dialog']//textarea").send_keys("Tower reports 4 SM to the west")
    person.one("//*[@role='dialog']//button[.='Override']").click()
    person.sees("Overridden. Tam Ferrand, for 1.0 SM short: Tower reports 4 SM to the west")
    person.stored()
    assert stored(person, number)["plan"]["overrides"][0]["by"] == "Tam Ferrand"
    # Further beyond the limit it is a new stop.
    person.type("Visibility", "1.5")
    person.sees("The override of Tam Ferrand was for 1.0 SM short.")
    person.stored()


def test_somebody_elses_save_is_shown_not_overwritten(planning):
    person, number = planning
    found = stored(person, number)
    found["plan"]["figures"][1]["start_ft"] = 4444
    assert put(person, number, {"version": found["version"], "plan": found["plan"]}) == 200
    person.type("Start, ft", "4200")
    person.sees("changed this sortie at")
    person.sees("4,444")
    assert stored(person, number)["plan"]["figures"][1]["start_ft"] == 4444
    person.press("Take what is stored")
    person.sees("4,444 ft")
    person.stored()


def test_a_wrong_password_at_the_door(person):
    person.go("/")
    person.type("Name to log in", "tam")
    person.type("Password", "guess")
    person.press("Log in")
    person.sees("name and password do not belong together. Check both; capitals count.")
