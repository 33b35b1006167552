"""Fly with the stand-in recorder: its marks fill the keys, and where it is cut off it goes on by hand."""

import json
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.browser.test_offline import ALL, note, on_the_server

BASE = Path(__file__).resolve().parents[2]


@pytest.fixture
def recorder(served, person, tmp_path) -> Iterator:
    """Flies the plan of a sortie, fast; its address is in the school's standards."""
    begun: list[subprocess.Popen] = []

    def begin(number: int, pace: float = 8.0) -> subprocess.Popen:
        tam = served.caller("tam")
        document = tmp_path / "plan.json"
        document.write_text(json.dumps(tam.call("GET", f"/api/sorties/{number}/plan.json")))
        manner = ["--port", "0", "--pace", str(pace), "--begins", "395"]
        command = [sys.executable, "-m", "keelturn", "live", *manner, str(document)]
        process = subprocess.Popen(command, cwd=BASE, stdout=subprocess.PIPE, text=True)
        begun.append(process)
        said = process.stdout.readline()
        address = said.split()[2]
        chief = served.caller("morag")
        held = chief.call("GET", "/api/standards")
        held["standards"]["recorder"] = address
        chief.call("PUT", "/api/standards", held)
        person.until(lambda: told_of(person) == address)
        return process

    yield begin
    for process in begun:
        process.kill()
        process.wait()


def told_of(person) -> str:
    """The recorder that the page knows: the application has its page renewed whenever it begins."""
    person.go("/")
    person.sees("Signed lately")
    script = "return document.querySelector('meta[name=recorder]').content"
    return str(person.browser.execute_script(script))


def recorded(served, number: int, attempt: str) -> dict[str, float]:
    entries = on_the_server(served, number)["entries"]
    return {e["what"]: e["value"] for e in entries if e["attempt"] == attempt and e["source"] == "recorder"}


@pytest.mark.long
def test_the_recorder_fills_the_keys_and_cut_off_in_the_middle_it_goes_on_by_hand(person, served, recorder):
    person.viewport(390, 844, mobile=True)
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    process = recorder(number)
    person.go(f"/sorties/{number}/fly")
    person.sees("1 of 7")
    # The first figure is found; the instructor confirms it with the student's number.
    person.until(lambda: "level_ft" in recorded(served, number, "f1"))
    person.press("lowest")
    person.sees("from the recorder")
    person.press("feel")
    person.press("Feel 8")
    # The next is begun without a tap. One of its heights is corrected: the hand counts, both are kept.
    person.until(lambda: "level_ft" in recorded(served, number, "f2"))
    person.sees("2 of 7")
    person.press("lowest")
    person.take("Lowest", "\ue00f")
    person.press("feel")
    person.press("Feel 7")
    # The box dies: it is said, and what comes is noted by hand.
    process.kill()
    person.sees("Recorder silent. By hand.")
    person.press("Next")
    note(person, *ALL)
    person.press("Feel 7")
    person.until(lambda: len(on_the_server(served, number)["attempts"]) == 3)
    person.until(lambda: on_the_server(served, number)["attempts"][2]["feel"] == 7)
    first, second, third = on_the_server(served, number)["attempts"]
    heard = recorded(served, number, "f1")
    assert {name: first[name] for name in ("start_ft", "lowest_ft", "level_ft", "most_g")} == {
        name: heard[name] for name in ("start_ft", "lowest_ft", "level_ft", "most_g")
    }
    planned = on_the_server(served, number)["answer"]["figures"][0]
    assert abs(first["start_ft"] - planned["start"]["value"]) <= 50
    its = recorded(served, number, "f2")["lowest_ft"]
    assert second["lowest_ft"] == its - 100
    assert [(o["what"], o["value"], o["recorder"]) for o in second["otherwise"]] == [("lowest_ft", its, True)]
    assert third["otherwise"] == [] and recorded(served, number, third["id"]) == {}


@pytest.mark.long
def test_a_recorder_on_another_qnh_fills_nothing_and_it_is_said(person, served, recorder):
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    recorder(number, pace=60.0)
    tam = served.caller("tam")
    sortie = tam.call("GET", f"/api/sorties/{number}")
    sortie["plan"]["day"]["qnh_hpa"] -= 9
    tam.call("PUT", f"/api/sorties/{number}", {"version": sortie["version"], "plan": sortie["plan"]})
    after = tam.call("GET", f"/api/sorties/{number}")
    tam.call("POST", f"/api/sorties/{number}/stage", {"version": after["version"], "to": "briefed"})
    person.go(f"/sorties/{number}/fly")
    person.sees("Recorder is on QNH")
    assert on_the_server(served, number)["entries"] == []
