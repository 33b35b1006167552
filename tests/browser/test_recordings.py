"""Debrief with a recorder's file: refused where it is none, read, found on page and server alike, taken
back; how an attempt was flown is on the page as the server has it."""

import json
import subprocess
import sys
from pathlib import Path

import pytest

from tests.browser.test_offline import on_the_server

BASE = Path(__file__).resolve().parents[2]


def recorded(served, number: int, into: Path) -> Path:
    """What a recorder wrote of the plan of a sortie."""
    plan, table = into / "plan.json", into / "flight.csv"
    plan.write_text(json.dumps(served.caller("tam").call("GET", f"/api/sorties/{number}/plan.json")))
    command = [sys.executable, "-m", "keelturn", "simulate", "--csv", "--out", str(table), str(plan)]
    subprocess.run(command, cwd=BASE, check=True)
    return table


def chosen(person, path: Path) -> None:
    person.browser.find_element("css selector", 'input[aria-label="Recorder\'s file"]').send_keys(str(path))


@pytest.mark.long
def test_a_recorders_file_fills_the_debrief_and_is_taken_back(person, served, tmp_path):
    person.viewport(1280, 800)
    person.log_in("tam", at="")
    number = person.coming("Jonah")
    broken = tmp_path / "broken.csv"
    broken.write_text("time_s\n1\n2\n")
    person.go(f"/sorties/{number}/debrief")
    person.button("Read a recorder’s file")
    chosen(person, broken)
    person.sees("it is no table")
    ours = recorded(served, number, tmp_path)
    foreign = tmp_path / "foreign.csv"
    foreign.write_text(ours.read_text().replace("time_s,", "elapsed,", 1))
    chosen(person, foreign)
    person.sees("Choose which column is the time")
    assert person.serious_faults_of_access() == []
    person.press("Leave it")
    chosen(person, ours)
    person.sees("7 figures found")
    attempts = on_the_server(served, number)["attempts"]
    assert len(attempts) == 7
    spin = next(a for a in attempts if a["planned"]["key"] == "spin")
    person.until(lambda: person.all("//*[@role='img'][contains(@aria-label, 'as recorded')]"))
    lost = round(spin["start_ft"] - spin["lowest_ft"])
    person.sees(f"−{lost:,}")
    person.keys("j")
    person.until(
        lambda: person.all("//*[@role='img'][starts-with(@aria-label, 'Power-off stall as recorded')]")
    )
    person.sees("Order and timing")
    person.until(lambda: person.all("//*[@role='img'][contains(@aria-label, 'inputs')]"))
    stall = next(a for a in attempts if a["planned"]["key"] == "stall_power_off")
    told = served.caller("tam").call("GET", f"/api/sorties/{number}/looks/{stall['id']}")["technique"]
    steps = [
        *told["account"]["steps"],
        {"height": told["account"]["best"]},
        {"height": told["account"]["flown"]},
    ]
    table = person.all("//*[@role='table'][@aria-label='Where the height went']")[0].text
    assert all(step["height"]["shown"] in table for step in steps)
    assert person.serious_faults_of_access() == []
    person.press("How it was read")
    person.sees("The file as it came")
    assert person.serious_faults_of_access() == []
    person.press("Take its numbers back")
    person.sees("taken back: its numbers do not count")
    person.until(lambda: not person.all("//*[@role='img'][contains(@aria-label, 'as recorded')]"))
    assert all(a["lowest_ft"] is None for a in on_the_server(served, number)["attempts"])
