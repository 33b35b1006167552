"""The command line and its documents: JSON in, JSON out, every wrong input answered with a code and a
sentence, never a traceback."""

import io
import json
from pathlib import Path

import jsonschema
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keelturn import cli
from keelturn.formats.answers import ANSWERS
from keelturn.formats.documents import REQUESTS
from keelturn.formats.schemas import schema_of
from tests.alterations import ODDITIES, altered, places_of
from tests.cards import LIGHT, changed

SCHEMAS = Path(__file__).resolve().parents[2] / "docs" / "schemas"
LOAD = {"front_lb": 170, "rear_lb": 170, "fuel_usgal": {"Centre": 18}}
NOSE_LOW = {"id": "f1", "key": "nose_low", "side": "right", "start_ft": 5000}
PREDICT = {"version": 1, "card": LIGHT, "load": LOAD, "figures": [NOSE_LOW], "pilots": 500}
PLAN = {
    "version": 1,
    "card": LIGHT,
    "plan": {"load": LOAD, "figures": [NOSE_LOW, {**NOSE_LOW, "id": "f2", "key": "spin"}]},
}
ASSESS = {**PLAN, "flown": [{"figure": NOSE_LOW, "pilot": {"numbers": {"delay_s": 1.8}}}]}
BY_COMMAND = {"predict": PREDICT, "plan": {**PLAN, "propose": True}, "assess": ASSESS, "simulate": PLAN}
REPLIES = {"predict": "prediction", "plan": "plan_reply", "assess": "assessment", "simulate": "recording"}


@pytest.fixture
def keelturn(monkeypatch, capsysbinary):
    def run(*arguments: str, document: object = None) -> tuple[int, bytes, str]:
        text = document if isinstance(document, str) else json.dumps(document)
        monkeypatch.setattr("sys.stdin", io.StringIO(text))
        code = cli.main(list(arguments))
        out, err = capsysbinary.readouterr()
        assert b"Traceback" not in err
        return code, out, err.decode()

    return run


@pytest.mark.parametrize("command", REQUESTS)
def test_a_request_is_answered_and_both_keep_their_published_schema(command, keelturn):
    jsonschema.validate(BY_COMMAND[command], schema_of(command))
    code, out, err = keelturn(command, document=BY_COMMAND[command])
    assert (code, err) == (0, "")
    jsonschema.validate(json.loads(out), schema_of(REPLIES[command]))


@pytest.mark.parametrize("kind", [*REQUESTS, *ANSWERS])
def test_the_published_schemas_are_those_of_the_program(kind):
    """When this fails: python tools/run.py schemas."""
    assert json.loads((SCHEMAS / f"{kind}.json").read_text()) == json.loads(json.dumps(schema_of(kind)))


def test_a_prediction_says_gate_loss_schools_and_spread(keelturn):
    beyond = {**NOSE_LOW, "parameters": {"bank_deg": 100}}
    _, out, _ = keelturn("predict", document={**PREDICT, "figures": [beyond], "entry_map": True})
    made = json.loads(out)["figures"][0]
    assert made["flown"]["lost_ft"] > 300
    assert made["gate"]["lowest"]["value"] < made["gate"]["highest"]["value"]
    costs = {school["school"]: school["lost_ft"] for school in made["schools"]}
    assert costs["Pulled through (for comparison)"] > costs["Power back, roll, pull"]
    assert sum(share["share"] for share in made["spread"]["shares"]) == pytest.approx(1)
    assert made["spread"]["p99_ft"] is None, "99 in 100 is quoted from 10,000 pilots only"
    assert len(made["entry_map"]["verdict"]) == 60


def test_the_table_has_a_line_for_every_figure_and_no_word_of_safety(keelturn):
    _, out, _ = keelturn("predict", "--table", document={"version": 1, "card": LIGHT, "pilots": 0})
    text = out.decode()
    assert text.count("\n") > 49
    assert "Nose-low recovery" in text and "Cloverleaf" in text
    assert "safe" not in text.lower()


@pytest.mark.parametrize(
    ("start", "less"),
    [
        ({"path_deg": -10}, True),
        ({"path_deg": -45}, False),
        ({"pitch_deg": -10}, True),
        ({"eas_kt": 85}, True),
    ],
)
def test_the_start_may_come_from_outside(start, less, keelturn):
    usual = json.loads(keelturn("predict", document=PREDICT)[1])["figures"][0]["flown"]["deepest_ft"]
    given = json.loads(keelturn("predict", document={**PREDICT, "start": start})[1])["figures"][0]["flown"][
        "deepest_ft"
    ]
    assert (given < usual) == less


def test_a_pilot_that_acts_at_once_is_allowed(keelturn):
    numbers = {
        "delay_s": 0,
        "throttle_s": 0,
        "onset_g_s": 1e6,
        "roll_acc_deg_s2": 1e6,
        "roll_share": 1,
        "roll_g": 1,
        "pull_g": 0.5,
        "lag_s": 0,
    }
    _, out, _ = keelturn("predict", document={**PREDICT, "pilot": {"numbers": numbers}})
    assert json.loads(out)["figures"][0]["flown"]["lost_ft"] < 250


def test_lag_costs_height(keelturn):
    def lost(lag):
        _, out, _ = keelturn("predict", document={**PREDICT, "pilot": {"numbers": {"lag_s": lag}}})
        return json.loads(out)["figures"][0]["flown"]["lost_ft"]

    assert lost(0.25) > lost(0.0) + 20


def test_simulate_writes_csv_to_a_file(keelturn, tmp_path):
    out = tmp_path / "flight.csv"
    code, printed, _ = keelturn("simulate", "--csv", "--out", str(out), document=PLAN)
    assert (code, printed) == (0, b"")
    lines = out.read_text().splitlines()
    assert lines[0] == "time_s,pressure_height_ft,ias_kt,g,pitch_deg,bank_deg,heading_deg"
    assert len(lines) > 1000
    assert list(tmp_path.iterdir()) == [out]


@pytest.mark.parametrize(
    ("document", "code", "words"),
    [
        ("{", 3, "line 1, column 2: not JSON"),
        ('{"version": NaN}', 3, "version: nan is not one of 1"),
        (
            json.dumps({**PREDICT, "start_ft": 12345.5}).replace("12345.5", "NaN"),
            3,
            "start_ft: nan is not a number",
        ),
        (json.dumps({**PREDICT, "start_ft": 12345.5}).replace("12345.5", "1e999"), 3, "start_ft: inf is"),
        (
            {**PREDICT, "start_ft": True},
            3,
            "start_ft: true is not a number. Write a number, without quotation",
        ),
        ({**PREDICT, "start_ft": "5000"}, 3, "start_ft: '5000' is not a number"),
        (
            {**PREDICT, "load": {**LOAD, "fuel_usgal": {"Centre": "18"}}},
            3,
            "load.fuel_usgal.Centre: '18' is not",
        ),
        ('{"version": 1, "version": 1}', 3, "version: stands twice in one object"),
        ("\ufeff{}", 3, "line 1, column 1: the file begins with a byte-order mark"),
        ({**PREDICT, "card": 3}, 3, "card: is not an object with named fields"),
        ({**PREDICT, "figures": 3}, 3, "figures: is not a list"),
        ({**PREDICT, "off_blocks": "soon"}, 3, "off_blocks: is not a date and time"),
        ({**PREDICT, "figures": [NOSE_LOW] * 61}, 3, "figures: has more than 60 entries"),
        (
            {**PREDICT, "pilot": {"numbers": {"onset_g_s": -1}}},
            3,
            "numbers.onset_g_s: -1 g/s is outside 0.1 to",
        ),
        (
            {**PREDICT, "pilot": {"numbers": {"turn_error": -5}}},
            3,
            "numbers.turn_error: -5 turns is outside -1 to",
        ),
        (
            {**PREDICT, "pilot": {"numbers": {"speed_error_kt": -500}}},
            3,
            "numbers.speed_error_kt: -500 kt is",
        ),
        (
            {**PREDICT, "pilot": {"numbers": {"height_keeping_ft": -1e6}}},
            3,
            "numbers.height_keeping_ft: -1e+06",
        ),
        (
            {**PREDICT, "pilot": {"numbers": {"delay_s": {"usual": 1.0, "varies": 0.2, "most": 99}}}},
            3,
            "numbers.delay_s: 99 s is outside 0 to 10",
        ),
        ("[" * 100000, 3, "nested too deep"),
        ([], 3, "document: "),
        ({**PREDICT, "version": 2}, 3, "version: "),
        ({**PREDICT, "moon": 1}, 3, "moon: this field is not known. Remove it"),
        ({"version": 1}, 3, "card: is missing"),
        ({**PREDICT, "figures": [{**NOSE_LOW, "key": "moonwalk"}]}, 3, "no figure 'moonwalk'"),
        (
            {**PREDICT, "figures": [{**NOSE_LOW, "start_ft": "high"}]},
            3,
            "figures[0].start_ft: 'high' is not a number",
        ),
        ({**PREDICT, "pilot": {"numbers": {"courage": 1}}}, 3, "no such number"),
        ({**PREDICT, "start": {"path_deg": -10, "pitch_deg": -8}}, 3, "both given"),
        (
            {**PREDICT, "figures": [{**NOSE_LOW, "key": "loop"}], "start": {"bank_deg": 20}},
            4,
            "start.bank_deg: a Loop is not begun",
        ),
        ({**PREDICT, "load": {**LOAD, "fuel_usgal": {"Moon": 3}}}, 4, "no tank 'Moon'"),
    ],
)
def test_wrong_input_is_refused_with_where_what_and_what_to_do(document, code, words, keelturn):
    found, out, err = keelturn("predict", document=document)
    assert found == code
    assert words in err
    assert out == b""


@pytest.mark.parametrize("command", ["predict", "assess", "simulate"])
def test_a_number_of_the_pilot_is_taken_or_refused_alike_by_every_command(command, keelturn):
    def asked(number, value):
        pilot = {"numbers": {number: value}}
        document = dict(BY_COMMAND[command])
        if command == "assess":
            return {**document, "flown": [{"figure": NOSE_LOW, "pilot": pilot}]}
        return {**document, "pilot": pilot}

    assert keelturn(command, document=asked("roll_acc_deg_s2", 300.0))[0] == cli.FINE
    assert keelturn(command, document=asked("roll_acc_deg_s2", -300.0))[0] == cli.REFUSED
    assert keelturn(command, document=asked("courage", 1.0))[0] == cli.REFUSED


def test_a_pilot_may_be_given_as_distributions(keelturn):
    def spread(**number):
        asked = {**PREDICT, "pilots": 2000, "pilot": {"numbers": {"delay_s": number}}}
        _, out, _ = keelturn("predict", document=asked)
        return json.loads(out)["figures"][0]["spread"]

    still, wild = spread(usual=1.5), spread(usual=1.5, varies=0.5)
    assert wild["p95_ft"] > still["p95_ft"] + 30
    assert wild["median_ft"] == pytest.approx(still["median_ft"], rel=0.03)


def test_ten_thousand_wrong_figures_are_named_by_the_first_twenty(keelturn):
    wrong = [{**NOSE_LOW, "id": f"f{i}", "start_ft": -1} for i in range(10_000)]
    code, _, err = keelturn("plan", document={**PLAN, "plan": {"load": LOAD, "figures": wrong}})
    assert code == cli.REFUSED
    lines = err.strip().split("\n")
    assert len(lines) <= 21 and "pydantic" not in err


def test_out_follows_a_link_and_refuses_what_is_no_file(keelturn, tmp_path):
    real, link = tmp_path / "real.json", tmp_path / "link.json"
    real.write_text("old")
    link.symlink_to(real)
    assert keelturn("simulate", "--out", str(link), document=PLAN)[0] == cli.FINE
    assert link.is_symlink() and json.loads(real.read_text())["version"] == 1
    for no_file in ("/dev/null", str(tmp_path)):
        code, _, err = keelturn("simulate", "--out", no_file, document=PLAN)
        assert code == cli.FILES and "not a file" in err


def test_files_that_cannot_be_read_or_written(keelturn, tmp_path):
    assert keelturn("plan", str(tmp_path / "none.json"))[0] == cli.FILES
    (tmp_path / "picture.json").write_bytes(b"\xff\xfe\x00")
    code, _, err = keelturn("plan", str(tmp_path / "picture.json"))
    assert code == cli.FILES and "not text in UTF-8" in err
    code, _, err = keelturn("plan", "--out", str(tmp_path / "no" / "where.json"), document=PLAN)
    assert code == cli.FILES and "Cannot write" in err


def test_wrong_use_is_code_two(keelturn):
    assert keelturn()[0] == cli.USAGE
    assert keelturn("fly")[0] == cli.USAGE
    assert keelturn("plan", "--table")[0] == cli.USAGE


def test_a_figure_the_card_cannot_compute_is_said_and_the_others_are_computed(keelturn):
    from tests.cards import NO_SPINS

    _, out, _ = keelturn("predict", document={"version": 1, "card": NO_SPINS, "pilots": 0})
    made = json.loads(out)
    assert any("no spin figures" in refusal["why"] for refusal in made["refused"])
    assert len(made["figures"]) > 30


@pytest.mark.long
@settings(max_examples=100, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.data())
def test_nothing_that_can_be_typed_is_a_fault_of_the_program(keelturn, data):
    """One thing of a good document otherwise, anywhere: answered, or refused with where, in our own words."""
    command = data.draw(st.sampled_from(sorted(BY_COMMAND)))
    document = {**BY_COMMAND[command], **({"pilots": 50} if command == "predict" else {})}
    place = data.draw(st.sampled_from(list(places_of(document))))
    how = data.draw(st.sampled_from(ODDITIES))
    code, out, err = keelturn(command, document=altered(document, place, how))
    assert code in (0, 3, 4), (place, how, err)
    assert bool(out) == (code == 0)
    assert not any(words in err for words in ("fault of the program", "pydantic", "Input should", "http"))


def test_a_number_that_no_aircraft_has_is_refused_in_its_place(keelturn):
    tank = {**LIGHT["balance"]["tanks"][0], "arm_in": 5000}
    card = changed(LIGHT, speeds={"reference_lb": {"value": 1e6}}, balance={"tanks": [tank]})
    code, _, err = keelturn("predict", document={**PREDICT, "card": card})
    assert code == 3
    assert "card.speeds.reference_lb: 1e+06 is outside 0 to 60000. Copy it again" in err
    assert "card.balance.tanks[0].arm_in: 5000 is outside -1000 to 1000" in err


def test_a_fault_of_the_program_is_one_sentence(keelturn, monkeypatch):
    monkeypatch.setattr("keelturn.formats.answers.plan", lambda request: 1 / 0)
    code, out, err = keelturn("plan", document=PLAN)
    assert code == cli.FAULT and out == b""
    assert "A fault of the program (ZeroDivisionError" in err
