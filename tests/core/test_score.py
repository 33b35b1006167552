"""What recordings are read to stays as good as it is: flights of known truth that nothing was set on, worst
recorders and all (`make score` counts 300)."""

import json

import numpy as np
import pytest

from keelturn import cli
from keelturn.recording.simulated import simulated
from tests.cards import LIGHT
from tests.flights import conditions
from tools.score_others import became_rows, tapped_rows
from tools.score_reading import rows, score_of
from tools.score_technique import measures

pytestmark = pytest.mark.long

# Of the half that is held out; `make score` counts many more.
FLIGHTS = range(150, 172)


# Of these the technique too: a fit takes longer than all the rest.
FITTED = range(150, 155)


@pytest.fixture(scope="module")
def score():
    return score_of(FLIGHTS, technique=False)


def test_pilots_of_held_out_flights_are_known_as_well_as_they_were():
    score = score_of(FITTED).technique
    found = {row.label: row.value for row in measures(score)}
    assert len(score.near) > 25
    assert found["flown by the model nearby, of 100"] >= 85
    assert found["pilot numbers: 95 % intervals hold, of 100"] >= 85
    assert found["recoveries whose loss is split, of 100"] >= 80
    assert found["account lines whose interval holds, of 100"] >= 86
    assert found["the same from notes alone, of 100"] >= 92
    assert found["accounts, worst line within a tenth, of 100"] >= 80
    assert found["faults: precision"] >= 0.85
    assert found["faults: recall"] >= 0.8


def test_the_held_out_flights_are_read_as_well_as_they_were(score):
    found = {row.label: row.value for row in rows(score)}
    assert len(score.named) > 120
    assert found["figures found and named, of 100"] >= 96, score.wrong
    assert found["found where none was, of 100 flown"] <= 4
    assert found["edges off, median, s"] <= 0.3
    assert found["heights within 15 ft, of 100"] >= 96, score.wrong
    assert found["turns within 0.25, of 100"] >= 95, score.wrong
    assert found["what became of it, of 100"] >= 97, score.wrong


def test_what_became_another_figure_is_seen():
    rows, wrong = became_rows(range(40, 64))
    # One row a second shows neither.
    assert [row.value >= 75.0 for row in rows] == [True, True], wrong


def test_goes_that_were_tapped_are_told_apart():
    tapped = score_of(FLIGHTS[:6], technique=False, tapped=True)
    known, named, _ = tapped_rows(tapped, tapped)
    assert len(tapped.tapped) > 30
    assert known.value >= 96.0
    assert named.value >= 97.0


def test_the_same_number_is_the_same_flight_and_another_another():
    one, two, other = (simulated(number, conditions()) for number in (7, 7, 8))
    assert np.array_equal(one.table.rows, two.table.rows)
    assert one.goes == two.goes
    assert one.plan != other.plan


def test_a_set_is_written_once_with_its_truth_and_read_again(tmp_path, capsys):
    request = tmp_path / "request.json"
    request.write_text(
        json.dumps(
            {"version": 1, "card": LIGHT, "plan": {"load": {"front_lb": 170, "rear_lb": 170}, "figures": []}}
        )
    )
    asked = ["simulate", str(request), "--set", "2", "--into", str(tmp_path / "set")]
    assert cli.main(asked) == cli.FINE
    assert "2 flights written" in capsys.readouterr().out
    made = {path.name: path.read_bytes() for path in (tmp_path / "set").iterdir()}
    assert sorted(made) == [
        f"000{n}_{name}" for n in (0, 1) for name in ("flight.csv", "plan.json", "truth.json")
    ]
    (tmp_path / "set" / "0001_truth.json").unlink()
    assert cli.main(asked) == cli.FINE
    assert "1 flights written" in capsys.readouterr().out
    assert {path.name: path.read_bytes() for path in (tmp_path / "set").iterdir()} == made
    truth = json.loads(made["0001_truth.json"])
    plan = str(tmp_path / "set" / "0001_plan.json")
    assert cli.main(["read", plan, "--recording", str(tmp_path / "set" / "0001_flight.csv")]) == cli.FINE
    read = json.loads(capsys.readouterr().out)
    assert len(read["figures"]) == len(truth["flown"])
    assert truth["flown"][0]["true"]["start_ft"] == pytest.approx(
        read["figures"][0]["measured"]["start_ft"], abs=40
    )
    assert cli.main(["debrief", plan, "--recording", str(tmp_path / "set" / "0001_flight.csv")]) == cli.FINE
    judged = json.loads(capsys.readouterr().out)
    assert judged["flight"] == read
    assert list(judged["technique"]) == [figure["attempt"] for figure in read["figures"]]
    assert all(told["recorded"] for told in judged["technique"].values())
    accounts = [told["account"] for told in judged["technique"].values() if told["account"]]
    assert accounts
    for account in accounts:
        steps = sum(step["height"]["value"] for step in account["steps"])
        assert account["best"]["value"] + steps == pytest.approx(account["flown"]["value"], abs=0.01)


def test_a_set_without_a_place_and_a_reading_without_a_recording_say_so(tmp_path, capsys):
    request = tmp_path / "request.json"
    request.write_text(
        json.dumps(
            {"version": 1, "card": LIGHT, "plan": {"load": {"front_lb": 170, "rear_lb": 170}, "figures": []}}
        )
    )
    assert cli.main(["simulate", str(request), "--set", "2"]) == cli.FILES
    assert "--into" in capsys.readouterr().err
    assert cli.main(["debrief", str(request)]) == cli.FILES
    assert cli.main(["read", str(request)]) == cli.FILES
    assert "--recording" in capsys.readouterr().err
    assert cli.main(["read", str(request), "--recording", str(tmp_path / "none.csv")]) == cli.FILES
    empty = tmp_path / "empty.csv"
    empty.write_text("")
    assert cli.main(["read", str(request), "--recording", str(empty)]) == cli.REFUSED
    assert "file: it is empty. Export the flight" in capsys.readouterr().err
