"""Planning and briefing as people do it: by keyboard alone, in a block too shallow, with wrong reports, files
and cards."""

import json
import re

import pytest
from selenium import webdriver
from selenium.webdriver.common.keys import Keys

TEN = (
    "steep turn",
    "wing-over",
    "turning stall",
    "incipient spin",
    "spin",
    "loop",
    "stall turn",
    "half cuban",
    "aileron roll",
    "nose-low",
)


def new_sortie(person, student: str, lesson: str, aircraft: str = "QX-ROE") -> str:
    person.press("Plan a sortie")
    person.choose("Student", student)
    person.choose("Lesson", lesson)
    person.choose("Aircraft", aircraft)
    person.until(lambda: person.button("Plan this").is_enabled())
    person.press("Plan this")
    person.sees("Before you go")
    return person.browser.current_url.replace(person.url, "").rsplit("/", 1)[0]


def keys(person, *pressed: str) -> None:
    for key in pressed:
        webdriver.ActionChains(person.browser).send_keys(key).perform()


def starts(person) -> list[float]:
    return [float(e.get_attribute("aria-valuenow")) for e in person.all("//*[@role='slider'][@data-notch]")]


@pytest.mark.long
def test_three_choices_are_answered_with_a_lesson_its_heights_and_why(person):
    person.log_in("tam")
    person.press("Plan a sortie")
    person.choose("Student", "Petra Lindqvale")
    person.choose("Aircraft", "QX-ROE")
    person.sees("every figure keeps its floor")
    person.sees("is not going away")
    person.choose("Aircraft", "QX-BRO")
    person.sees("is not approved for")
    assert person.serious_faults_of_access() == []
    person.press("Not now")


@pytest.mark.long
def test_a_mixed_sortie_of_ten_figures_by_keyboard_alone(person):
    person.log_in("tam")
    new_sortie(person, "Rhea Solanpike", "Free")
    person.sees("all the height is still yours")
    person.browser.execute_script("document.activeElement?.blur()")
    for count, letters in enumerate(TEN, start=1):
        keys(person, "a")
        person.one("//*[@role='dialog']//input")
        keys(person, letters)
        options = person.until(lambda: person.all("//*[@role='option']"))
        # The first with exactly these letters, else the first.
        down = next((i for i, o in enumerate(options) if o.text.lower() == letters), 0)
        keys(person, *([Keys.ARROW_DOWN] * down), Keys.ENTER)
        person.until(lambda n=count: len(person.all("//ol/li[.//button[contains(., ' ft')]]")) == n)
        person.browser.execute_script("document.activeElement?.blur()")
    # Nothing is moved for no need.
    keys(person, "f")
    person.sees("It fits as it is")
    keys(person, Keys.ESCAPE)
    # The chosen figure (the last) far too low: it alone is put back to where it may begin.
    before = person.until(lambda: starts(person) if len(starts(person)) == 10 else None)
    keys(person, *([Keys.ARROW_DOWN] * 40))
    person.until(lambda: person.all("//*[@data-check][.//*[@aria-label='stop']]"))
    keys(person, "f")
    person.sees("This would fit")
    keys(person, Keys.ENTER)
    person.until(lambda: not person.all("//*[@data-check][.//*[@aria-label='stop']]"))
    fitted = person.until(lambda: starts(person) if len(starts(person)) == 10 else None)
    assert fitted[:9] == before[:9] and fitted[9] > before[9] - 2000
    # It is raised, mirrored, taken away; and all of it is undone.
    keys(person, Keys.ARROW_UP, Keys.ARROW_UP)
    person.until(lambda: starts(person)[-1] == fitted[-1] + 100)
    keys(person, "m")
    person.until(lambda: len(starts(person)) == 11)
    keys(person, Keys.DELETE)
    person.until(lambda: len(starts(person)) == 10)
    for _ in range(3):
        person.undo()
    person.until(lambda: starts(person) == fitted)
    person.stored()
    keys(person, "2")
    person.sees("10 figures")


@pytest.mark.long
def test_a_notch_is_dragged_up_and_along_and_both_are_undone(person):
    person.log_in("ilse")
    new_sortie(person, "Mirela Quade", "Spins, both ways")
    # Nothing moves any more under the hand that drags.
    person.stored()
    person.at_rest()
    names = "//*[@role='slider'][@data-notch]"

    def labels() -> list[str]:
        return [e.get_attribute("aria-label")[2:] for e in person.all(names)]

    before, order = starts(person), labels()
    fourth, *_, last = person.all(names)[3:]
    # Past the fifth, a rest in which the strip is drawn anew, and on past the two others.
    drag = webdriver.ActionChains(person.browser).click_and_hold(fourth)
    far = last.rect["x"] + last.rect["width"] / 2 + 8 - fourth.rect["x"] - fourth.rect["width"] / 2
    drag.move_by_offset(40, 0).move_by_offset(round(far / 2) - 40, 2).perform()
    changed = [e for e in order if e != order[3]]
    person.until(lambda: labels() not in (order, [*changed, order[3]]))
    person.at_rest()
    webdriver.ActionChains(person.browser).move_by_offset(round(far / 2), 0).release().perform()
    person.until(lambda: labels() == [*changed, order[3]])
    webdriver.ActionChains(person.browser).click_and_hold(person.all(names)[1]).move_by_offset(
        0, -20
    ).move_by_offset(1, -20).release().perform()
    person.until(lambda: starts(person)[1] > before[1] + 200)
    person.undo()
    person.undo()
    person.until(lambda: starts(person) == before)


@pytest.mark.long
def test_a_spin_lesson_in_a_block_too_shallow_is_told_the_smallest_way_out(person):
    person.log_in("tam")
    new_sortie(person, "Rhea Solanpike", "Spins, both ways")
    person.press("Day")
    # Whatever today's weather is: cloud would be a stop that no sequence takes away.
    person.type("Cloud base", "9000")
    person.press("Place")
    person.type("My own floor", "5650")
    person.until(lambda: person.all("//*[@data-check='floor_f5']"))
    person.press("Find the smallest way out")
    person.sees("The smallest way out: incipient spin instead of spin (number 5 and 6)")
    person.sees("Spin needs")
    assert person.serious_faults_of_access() == []
    person.press("Accept")
    person.until(lambda: len(person.all("//ol/li[.//button[contains(., 'Incipient spin')]]")) == 4)
    person.until(
        lambda: re.fullmatch(r"Before you go: (no stops|\d+ to mind)", person.sees("Before you go").text)
    )


@pytest.mark.long
def test_a_brief_is_presented_read_asked_about_and_answered(person):
    person.log_in("ilse")
    path = new_sortie(person, "Mirela Quade", "Spins, both ways")
    person.stored()
    person.keys("2")
    person.sees("See the incipient spin")
    for _ in range(5):
        person.keys("j")
    person.sees("5 of 7")
    person.sees("Stick briskly forward of neutral")
    person.one("//*[@role='img'][contains(@aria-label, 'from the side')]")
    person.until(
        lambda: len(person.all("//*[@role='img'][starts-with(@aria-label, 'Out of the window')]")) == 4
    )
    faults = {"figure": person.serious_faults_of_access()}
    person.keys(" ")
    person.sees("Ahead, now")
    person.press("Parachute")
    person.sees("Bail out, bail out, bail out.")
    faults["words"] = person.serious_faults_of_access()
    person.log_out()
    person.log_in("mirela")
    person.sees("Read the brief")
    person.go(path)
    for _ in range(13):
        person.press("Next page")
    person.press("I have read it")
    person.sees("You read it")
    person.type("Ask about", "Which foot first?")
    person.press("Ask")
    person.sees("Which foot first?")
    faults["student"] = person.serious_faults_of_access()
    assert not person.all("//button[starts-with(., 'Fit it')]")
    person.log_out()
    person.log_in("ilse")
    person.sees("1 question to answer")
    person.go(f"{path}/brief")
    person.type("Answer Mirela", "The one against the turn.")
    person.press("Answer")
    person.sees("The one against the turn.")
    assert {where: found for where, found in faults.items() if found} == {}


@pytest.mark.long
def test_a_report_is_pasted_fetched_and_refused(person):
    person.log_in("ilse")
    new_sortie(person, "Mirela Quade", "Spins, both ways")
    person.press("Day")
    person.type("METAR", "this is no report")
    person.press("Read it")
    person.sees("no station and time at the beginning of 'THIS IS NO REPORT'")
    person.sees("Paste the whole line")
    person.type("METAR", "METAR XELS 010050Z 24014KT 9999 BKN076 11/07 Q0987")
    person.press("Read it")
    person.sees("from XELS, not from XSKA")
    person.sees("old: ask for a newer one")
    person.until(lambda: person.field("QNH").get_attribute("value") == "987")
    person.press("Fetch")
    person.sees("Taken: QNH, temperature")
    person.until(lambda: person.field("QNH").get_attribute("value") != "987")
    person.type("QNH", "1001")
    person.sees("typed in")
    person.stored()
    assert person.serious_faults_of_access() == []


@pytest.mark.long
@pytest.mark.parametrize(
    ("text", "what"),
    [
        ('{"figures": [', "it is not JSON"),
        ('{"load": {"front_lb": 150, "rear_lb": -5}, "figures": []}', "-5 is below 0"),
        ('{"a": 1}', "is missing"),
    ],
)
def test_a_wrong_plan_file_changes_nothing_and_says_why(person, tmp_path, text, what):
    person.log_in("ilse")
    new_sortie(person, "Mirela Quade", "Spins, both ways")
    (tmp_path / "plan.json").write_text(text)
    before = starts(person)
    person.browser.find_element("xpath", "//input[@aria-label='Plan from a file']").send_keys(
        str(tmp_path / "plan.json")
    )
    person.sees("This file was not taken")
    person.sees(what)
    person.press("Back to the plan")
    assert starts(person) == before


def test_a_plan_leaves_and_comes_back_as_a_file(person, tmp_path):
    person.log_in("ilse")
    path = new_sortie(person, "Mirela Quade", "Spins, both ways")
    person.stored()
    script = "const done = arguments[1]; fetch(arguments[0]).then((r) => r.json()).then(done)"
    document = person.browser.execute_async_script(script, f"/api{path}/plan.json")
    document["plan"]["figures"] = document["plan"]["figures"][:3]
    (tmp_path / "plan.json").write_text(json.dumps(document))
    person.browser.find_element("xpath", "//input[@aria-label='Plan from a file']").send_keys(
        str(tmp_path / "plan.json")
    )
    person.until(lambda: len(starts(person)) == 3)
    person.undo()
    person.until(lambda: len(starts(person)) == 7)


@pytest.mark.long
def test_the_book_of_figures_and_what_the_chief_asks(person):
    person.log_in("morag", "/figures?figure=nose_low")
    person.sees("Recovery methods side by side")
    person.sees("in use")
    person.sees("Faults, and what they cost")
    assert person.serious_faults_of_access() == []
    person.press("Set the school's standard")
    person.choose("Recovery method", "Push, roll, power, stabilise")
    person.type("Words to say", "Light first, then roll.")
    person.press("Store")
    person.sees("Light first, then roll.")
    person.one("//*[@aria-label='Changes'][contains(., 'Morag Sellwyn')]")
    person.press("Set the school's standard")
    person.choose("Recovery method", "as the instructor chooses")
    person.type("Words to say", "")
    person.press("Store")
    person.until(lambda: not person.all("//*[contains(text(), 'This school:')]"))


@pytest.mark.long
def test_an_impossible_card_is_refused_at_its_numbers_and_a_good_one_is_stored(person, tmp_path):
    person.log_in("morag", "/fleet")
    person.press("QX-ROE Selkie 160")
    person.press("Change QX-ROE")
    person.one("//*[@role='dialog']")
    assert person.serious_faults_of_access() == []
    stall = person.one("//input[@aria-label='Stall, clean']")
    stall.send_keys(Keys.CONTROL, "a")
    stall.send_keys("140")
    person.press("Store the card")
    person.sees("the stall (140) must be below Va (126)")
    person.sees("What is stored is as it was.")
    stall.send_keys(Keys.CONTROL, "a")
    stall.send_keys("52")
    person.press("Store the card")
    person.until(lambda: not person.all("//*[@role='dialog']"))
    (tmp_path / "card.json").write_text('{"card": {"name": "X"}}')
    person.browser.find_element("xpath", "//input[@aria-label='Import an aircraft']").send_keys(
        str(tmp_path / "card.json")
    )
    person.sees("This file was not taken")
    person.sees("This is not an aircraft card")
    person.press("Back")
    person.press("Change the standards")
    floor = person.one("//input[@aria-label='School floor, above ground']")
    assert person.serious_faults_of_access() == []
    # A floor that comes down for every plan is seen before it is stored.
    floor.send_keys(Keys.CONTROL, "a")
    floor.send_keys("0", Keys.TAB)
    person.press("Store the standards")
    person.sees("School floor, above ground: 3,000")
    person.press("Back")
    person.press("Leave it as it was")
    person.press("Drop the changes")
    person.press("Change Skarra Sound block")
    person.one("//*[@role='dialog']//*[contains(@aria-label, 'from above')]")
    assert person.serious_faults_of_access() == []
    person.type("Block top", "200")
    person.press("Store the place")
    person.sees("less than 500 ft above the ground")
    person.press("Leave it as it was")
    person.sees("What you changed here is not stored.")
    person.press("Drop the changes")


TYPED = "[not(@readonly)][not(@aria-hidden='true')]"
FIELDS = (
    f"//*[@role='dialog']//input[not(@type) or @type='text']{TYPED} | //*[@role='dialog']//textarea{TYPED}"
)


@pytest.mark.long
@pytest.mark.parametrize(
    ("who", "page", "keys"),
    [
        ("morag", "/fleet", ("QX-ROE Selkie 160", "Change QX-ROE")),
        ("morag", "/fleet", ("Change Skarra Sound block",)),
        ("morag", "/fleet", ("Change the standards",)),
        ("morag", "/people", ("Ask somebody in",)),
    ],
    ids=["card", "place", "standards", "person"],
)
def test_every_field_of_an_editor_takes_what_is_typed_and_shows_it(person, who, page, keys):
    """Fields of words showed NaN in an editor of numbers."""
    person.log_in(who, page)
    for key in keys:
        person.press(key)
    person.one("//*[@role='dialog']")
    fields = [field for field in person.all(FIELDS) if field.is_enabled()]
    assert fields
    for field in fields:
        before = field.get_property("value")
        assert "NaN" not in before, field.accessible_name
        if len(before) >= int(field.get_dom_attribute("maxlength") or len(before) + 1):
            continue
        field.send_keys(Keys.END, "7")
        assert field.get_property("value") == f"{before}7", field.accessible_name
    person.press("Leave it as it was")
    person.press("Drop the changes")
