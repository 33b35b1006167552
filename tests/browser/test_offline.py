"""Fly with the network off, on a phone: from a cold start, killed twice, two devices, a session that ended,
a full device. Every entry is on the server exactly once."""

from collections import Counter
from datetime import datetime, timedelta

import pytest
from selenium.webdriver.common.keys import Keys

from tests.browser.network import Network


@pytest.fixture
def network(person):
    made = Network(person.browser)
    yield made
    made.back()
    made.close()


def on_the_server(served, number: int) -> dict:
    return served.caller("morag").call("GET", f"/api/sorties/{number}")


def on_the_device(person) -> None:
    """The application and the sortie are there."""
    person.sees("on this device since")
    ready = "const done = arguments[0]; navigator.serviceWorker.ready.then(() => done(true))"
    person.browser.execute_async_script(ready)
    person.until(lambda: person.browser.execute_script("return !!navigator.serviceWorker.controller"))


def note(person, *steps: str) -> None:
    """The next keys in their order, each as it is offered."""
    for step in steps:
        person.take(step)


ALL = ("At the gate", "Recover", "Lowest", "Level")


KEPT = """
const done = arguments[0], person = JSON.parse(localStorage['keelturn.who']).session.person.id;
const asked = indexedDB.open(`keelturn-${person}`);
asked.onsuccess = () => {
  const all = asked.result.transaction('entries').objectStore('entries').getAll();
  all.onsuccess = () => { asked.result.close(); done(all.result.map((k) => [k.id, k.state])); };
};
"""


def waiting(person) -> list[str]:
    """The entries on the device that the server does not have, by their identity."""
    rows = person.browser.execute_async_script(KEPT)
    return [name for name, state in rows if state == "waiting"]


@pytest.mark.long
def test_nine_figures_without_a_network_from_a_cold_start(person, served, network):
    person.viewport(390, 844, mobile=True)
    person.log_in("tam")
    number = person.coming("Jonah")
    on_the_device(person)
    network.cut()
    # A cold start: the page is thrown away and begun again with no server behind it.
    person.browser.get("about:blank")
    network.cut()
    person.go(f"/sorties/{number}/fly")
    network.cut()
    person.sees("1 of 7")
    for i in range(7):
        person.sees(f"{i + 1} of 7")
        note(person, *ALL)
        person.press("Feel 7")
        if i == 2:
            person.press("lowest")
            person.take("Lowest", "\ue00f")
        if i == 3:
            # The page is killed, and comes back where it was.
            person.browser.refresh()
            network.cut()
            person.sees("5 of 7")
            continue
        if i == 5:
            person.press("My controls")
            person.sees("at ")
        if i < 6:
            person.press("Next")
    # Once more, and to the other side: nine.
    person.press("Again")
    note(person, *ALL)
    person.press("Other side")
    note(person, *ALL)
    person.browser.refresh()
    network.cut()
    person.sees("of 7")
    kept = waiting(person)
    assert len(kept) == len(set(kept)) > 45
    assert on_the_server(served, number)["entries"] == []
    network.back()
    person.browser.execute_script("window.dispatchEvent(new Event('online'))")
    person.until(lambda: waiting(person) == [])
    found = on_the_server(served, number)
    assert Counter(e["id"] for e in found["entries"]) == Counter(kept)
    attempts = found["attempts"]
    assert len(attempts) == 9
    assert [a["planned"]["id"] for a in attempts[:7]] == [f"f{i}" for i in range(1, 8)]
    assert [a["feel"] for a in attempts[:7]] == [7] * 7
    assert all(a["level_ft"] is not None for a in attempts)
    assert attempts[5]["taken_over_ft"] is not None
    assert {attempts[-1]["planned"]["side"], attempts[-2]["planned"]["side"]} == {"left", "right"}


@pytest.mark.long
def test_two_devices_on_one_sortie_one_an_hour_off(person, served):
    """They note the same figure without seeing each other: one attempt, both numbers."""
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    person.go(f"/sorties/{number}/fly")
    note(person, "At the gate", "Recover")
    person.take("Lowest", Keys.ARROW_UP)
    person.take("Level")
    person.until(lambda: len(on_the_server(served, number)["entries"]) == 5)
    mine = on_the_server(served, number)["entries"]
    lowest = next(e for e in mine if e["what"] == "lowest_ft")
    later = {
        **lowest,
        "id": "another-device-0001",
        "device": "another",
        "value": lowest["value"] - 60,
        # Noted a second later by a clock that is an hour slow.
        "at": (datetime.fromisoformat(lowest["at"]) - timedelta(minutes=59, seconds=59)).isoformat(),
        "offset_s": lowest["offset_s"] + 3600,
        "replaces": [],
    }
    served.caller("tam").call("POST", f"/api/sorties/{number}/entries", {"entries": [later]})
    (attempt,) = on_the_server(served, number)["attempts"]
    assert attempt["lowest_ft"] == lowest["value"] - 60
    assert [(o["what"], o["value"]) for o in attempt["otherwise"]] == [("lowest_ft", lowest["value"])]


def test_a_session_that_ended_in_the_air_disturbs_nobody_and_loses_nothing(person, served):
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    person.go(f"/sorties/{number}/fly")
    person.sees("1 of 7")
    person.browser.delete_cookie("sessionid")
    note(person, *ALL)
    person.sees("Logged out: 5 entries kept here")
    person.does_not_see("Your session has ended")
    person.go("/")
    person.log_in_by_form("tam")
    person.go(f"/sorties/{number}/fly")
    person.until(lambda: len(on_the_server(served, number)["entries"]) == 5)
    person.until(lambda: waiting(person) == [])


@pytest.mark.long
def test_the_same_outbox_sent_twice_changes_nothing(person, served):
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    person.go(f"/sorties/{number}/fly")
    note(person, *ALL)
    person.until(lambda: len(on_the_server(served, number)["entries"]) == 5)
    again = on_the_server(served, number)["entries"]
    sent = served.caller("tam").call("POST", f"/api/sorties/{number}/entries", {"entries": again})
    assert (sent["noted"], len(sent["known"])) == (5, 5)
    assert len(on_the_server(served, number)["attempts"]) == 1


@pytest.mark.long
def test_another_person_on_the_same_device_sees_nothing_of_the_first(person, served, network):
    person.log_in("tam")
    number = person.coming("Jonah")
    on_the_device(person)
    person.go(f"/sorties/{number}/fly")
    person.sees("1 of 7")
    network.cut()
    note(person, "At the gate")
    person.press("Log out")
    person.sees("2 entries have not reached the server")
    person.press("Log out")
    person.field("Name to log in")
    network.back()
    person.log_in_by_form("ilse")
    person.sees("Signed lately")
    person.does_not_see("on this device since")
    assert waiting(person) == []
    person.go(f"/sorties/{number}/fly")
    person.sees("1 of 7")
    assert on_the_server(served, number)["entries"] == []
    # The first comes back: what only the device had is sent, once.
    person.log_out()
    person.log_in_by_form("tam")
    person.go(f"/sorties/{number}/fly")
    person.until(lambda: len(on_the_server(served, number)["entries"]) == 2)
    assert waiting(person) == []


def test_a_full_device_says_so_and_keeps_what_was_there(person, served):
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    person.go(f"/sorties/{number}/fly")
    note(person, "At the gate")
    person.until(lambda: len(on_the_server(served, number)["entries"]) == 2)
    # The browser's database takes nothing more.
    person.browser.execute_script(
        """const full = () => { throw new DOMException('full', 'QuotaExceededError'); };
        IDBObjectStore.prototype.put = full; IDBObjectStore.prototype.add = full;
        window.fetch = () => Promise.reject(new TypeError('offline'));"""
    )
    person.take("Recover")
    person.sees("This device is full: not kept here")
    person.browser.refresh()
    person.sees("1 of 7")
    assert on_the_server(served, number)["attempts"][0]["start_ft"] is not None


@pytest.mark.long
def test_a_server_that_is_begun_again_in_the_middle_has_every_entry_once(person, served):
    person.viewport(390, 844, mobile=True)
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    person.go(f"/sorties/{number}/fly")
    person.sees("1 of 7")
    note(person, *ALL)
    person.press("Feel 7")
    served.stop()
    try:
        person.press("Next")
        note(person, *ALL)
        person.sees("wait")
        assert len(waiting(person)) >= 4
    finally:
        served.start()
    person.until(lambda: waiting(person) == [])
    found = on_the_server(served, number)
    counted = Counter(e["id"] for e in found["entries"])
    assert set(counted.values()) == {1}
    assert [a["level_ft"] is not None for a in found["attempts"]] == [True, True]
