"""Marks found in flight, against the true ones of simulated figures; and the stream of the stand-in."""

import json
import subprocess
import sys
import urllib.request
from pathlib import Path

import pytest

from keelturn.recording.live import GAP_S, LiveFinder, MarkKind, Sample
from keelturn.recording.recorder import Sensors, record
from keelturn.stand_in import Stream, samples_of
from tests.cards import LIGHT
from tests.flights import conditions, figure, plan
from tests.servers import PATIENCE_S
from tools.bench_live import CONDITIONS, FLOWN, flights, found_in

SPIN = next(kind for kind in FLOWN if kind.key == "spin")
BASE = Path(__file__).resolve().parents[2]


def level(at, height=5000.0, **changed):
    still = {"ias": 90.0, "g": 1.0, "pitch_deg": 3.0, "bank_deg": 0.0, "heading_deg": 90.0}
    return Sample(at, height, **(still | changed))


def heard(samples):
    finder = LiveFinder()
    return [mark for sample in samples for mark in finder.feed(sample)]


@pytest.mark.long
def test_97_of_100_figures_have_all_their_marks_as_near_as_asked():
    found = [found_in(kind, seed=11) for kind in FLOWN]
    wrong = {one.key: one.wrong for one in found if one.wrong}
    assert len(wrong) <= 0.03 * len(found), wrong


def test_level_flight_has_no_mark_and_a_look_around_of_25_degrees_is_no_figure():
    calm = [level(i / 16) for i in range(16 * 30)]
    turn = [level(30 + i / 16, bank_deg=25.0, g=1.1) for i in range(16 * 10)]
    assert heard([*calm, *turn]) == []


def test_a_figure_has_its_marks_once_in_their_order():
    marks = heard(samples_of(flights(SPIN, Sensors(rate_hz=16, seed=2)).rows, CONDITIONS))
    first = [mark.kind for mark in marks if mark.figure == 1]
    assert first[:4] == [MarkKind.BEGINS, MarkKind.RECOVERS, MarkKind.LOWEST, MarkKind.LEVEL]
    assert sorted(first) == sorted(set(first))
    times = [mark.time_s for mark in marks if mark.kind in first[:4]]
    assert times == sorted(times)
    begins, recovers, lowest, *_ = (mark.value for mark in marks)
    assert begins > recovers > lowest
    assert {mark.figure for mark in marks} == {1, 2}


@pytest.mark.parametrize("silence", [GAP_S + 0.1, 20.0])
def test_after_a_silence_in_a_figure_nothing_of_it_is_sure(silence):
    samples = list(samples_of(flights(SPIN, Sensors(rate_hz=16, seed=2)).rows, CONDITIONS))
    at = next(i for i, s in enumerate(samples) if s.pitch_deg < -60)
    cut = [*samples[:at], *(s for s in samples[at:] if s.time_s > samples[at].time_s + silence)]
    kinds = [mark.kind for mark in heard(cut) if mark.figure == 1]
    assert kinds[0] == MarkKind.BEGINS
    assert MarkKind.TURNS not in kinds


def test_what_comes_twice_or_late_changes_nothing():
    samples = list(samples_of(flights(SPIN, Sensors(rate_hz=16, seed=2)).rows, CONDITIONS))
    doubled = [one for sample in samples for one in (sample, sample)]
    assert heard(doubled) == heard(samples)


def test_heights_are_on_the_qnh_of_the_day_and_samples_lost_in_bursts_do_not_matter():
    low = conditions(plan(figure("spin"), day={"qnh_hpa": 995.0}))
    table = record((figure("spin", 5500), figure("loop", 5500, id="f2")), low, Sensors(rate_hz=16, seed=4))
    begins = next(m for m in heard(samples_of(table.rows, low)) if m.kind == MarkKind.BEGINS)
    assert begins.value == pytest.approx(5500, abs=25)
    lossy = Sensors(rate_hz=16, seed=4, dropouts_share=0.03)
    marks = heard(samples_of(record((figure("loop", 5500),), low, lossy).rows, low))
    assert all(abs(mark.value - 5500) < 60 for mark in marks if mark.kind == MarkKind.LOWEST)


def test_who_comes_back_is_sent_the_marks_that_were_missed_and_then_what_comes():
    stream = Stream({})
    for number in range(5):
        stream.add("sample", [number])
        stream.add("mark", {"figure": number})
    again = stream.since(4)
    assert [next(again).data for _ in range(3)] == [{"figure": n} for n in (2, 3, 4)]
    stream.add("sample", [9])
    assert next(again).data == [9]
    fresh = stream.since(0)
    assert next(fresh) is None
    stream.add("mark", {"figure": 7})
    assert next(fresh).data == {"figure": 7}


@pytest.fixture
def standing_in(tmp_path):
    document = {
        "version": 1,
        "card": LIGHT,
        "place": {"name": "Test block", "elevation_ft": 0, "block_top_ft": 6500},
        "plan": plan(figure("spin", 5000)).model_dump(mode="json"),
    }
    file = tmp_path / "plan.json"
    file.write_text(json.dumps(document))
    manner = ["--port", "0", "--pace", "60", "--begins", "370", "--hangs-up", "0.7"]
    command = [sys.executable, "-m", "keelturn", "live", *manner, str(file)]
    process = subprocess.Popen(command, cwd=BASE, stdout=subprocess.PIPE, text=True)
    yield process.stdout.readline().split()[2]
    process.kill()
    process.wait()


def listened(address, last=0, seconds=PATIENCE_S):
    """The events until it hangs up: number, kind, data."""
    asked = urllib.request.Request(f"{address}/live", headers={"Last-Event-ID": str(last)})
    with urllib.request.urlopen(asked, timeout=seconds) as answer:
        assert answer.headers["Content-Type"].startswith("text/event-stream")
        assert answer.headers["Access-Control-Allow-Origin"] == "*"
        blocks = answer.read().decode().split("\n\n")
    said = [dict(line.split(": ", 1) for line in b.split("\n") if ": " in line) for b in blocks]
    return [(int(s["id"]), s["event"], json.loads(s["data"])) for s in said if "event" in s]


@pytest.mark.long
def test_the_stand_in_streams_its_flight_hangs_up_and_goes_on_where_it_was(standing_in):
    first = listened(standing_in)
    assert first[0][1] == "recorder"
    assert first[0][2]["qnh_hpa"] == 1013.25
    events = first[1:]
    while not any(kind == "end" for _, kind, _ in events):
        events += listened(standing_in, last=events[-1][0])[1:]
    marks = [data["kind"] for _, kind, data in events if kind == "mark"]
    assert marks.count("lowest") == marks.count("level") == 1
    numbers = [number for number, _, _ in events]
    assert numbers == sorted(set(numbers))
    with pytest.raises(urllib.error.HTTPError):
        urllib.request.urlopen(f"{standing_in}/elsewhere", timeout=PATIENCE_S)
