"""A recorder's file in a sortie: kept byte for byte, its numbers beside those of the taps, taken back
again."""

import hashlib
import json
from datetime import timedelta
from urllib.parse import quote

import pytest
from django.db import DatabaseError, transaction

from keelturn.formats.answers import as_csv
from keelturn.recording.recorder import Sensors, record
from server import recordings
from server.school.models import EntryRow, Recorded, Sortie
from server.school.operations.computing import conditions_for, plan_of
from tests.server.conftest import post
from tests.server.sheets import entry, figure_entry, noted, to_sign, url


def file_of(sortie, seed=1, figures=None, **sensors):
    """What a recorder would have written of it."""
    plan = plan_of(sortie)
    chosen = [f for f in plan.figures if figures is None or f.id in figures]
    table = record(tuple(chosen), conditions_for(sortie, plan), Sensors(rate_hz=8, seed=seed, **sensors))
    return as_csv(table.columns, table.rows.round(3).tolist())


def sent(client, sortie, content, name="flight.csv"):
    where = f"{url(sortie)}/recordings?name={name}"
    return client.post(where, content, content_type="application/octet-stream")


def test_a_file_is_kept_as_it_came_and_its_numbers_are_attempts(school, as_, files):
    sortie = school.brought_to("briefed")
    content = file_of(sortie)
    answer = sent(as_("bo"), sortie, content)
    assert answer.status_code == 201
    body = answer.json()
    assert (body["name"], body["size"], body["by"]) == ("flight.csv", len(content), "Bo")
    assert body["digest"] == hashlib.sha256(content).hexdigest()
    planned = [f["id"] for f in sortie.plan["figures"]]
    assert [f["planned"] for f in body["flight"]["figures"]] == planned
    shown = as_("bo").get(url(sortie)).json()
    assert [a["id"] for a in shown["attempts"]] == planned
    for attempt, found in zip(shown["attempts"], body["flight"]["figures"], strict=True):
        assert abs(attempt["lowest_ft"] - found["measured"]["lowest_ft"]) <= 10
        assert attempt["lowest_ft"] <= found["measured"]["lowest_ft"]
        assert attempt["most_g"] >= found["measured"]["most_g"] - 1e-6
        assert 0 <= attempt["fastest_ias"] - found["measured"]["fastest_ias"] < 1
        assert (attempt["rolling_g"] or 0) >= (found["measured"]["rolling_g"] or 0) - 1e-6
    assert {e["source"] for e in shown["entries"]} == {"recorder"}
    out = as_("ana").get(f"{url(sortie)}/recordings/{body['id']}/file")
    assert out.content == content
    assert out.headers["Content-Disposition"].startswith("attachment")


def test_what_a_hand_noted_counts_and_the_recorder_stands_beside_it(school, as_, files):
    sortie = school.brought_to("briefed")
    first = sortie.plan["figures"][0]["id"]
    noted(as_("bo"), sortie, figure_entry(sortie, 0), entry(first, "lowest_ft", 2000))
    sent(as_("bo"), sortie, file_of(sortie))
    attempt = as_("bo").get(url(sortie)).json()["attempts"][0]
    assert attempt["lowest_ft"] == 2000
    beside = [o for o in attempt["otherwise"] if o["what"] == "lowest_ft"]
    assert len(beside) == 1
    assert beside[0]["recorder"]


def test_the_same_file_again_is_there_once_and_another_beside_it(school, as_, files):
    sortie = school.brought_to("briefed")
    content = file_of(sortie)
    one, two = (sent(as_("bo"), sortie, content).json() for _ in range(2))
    assert one["id"] == two["id"]
    assert EntryRow.objects.filter(sortie=sortie).count() == len(as_("bo").get(url(sortie)).json()["entries"])
    sent(as_("bo"), sortie, file_of(sortie, seed=2), "other.csv")
    listed = as_("ana").get(f"{url(sortie)}/recordings").json()
    assert [r["name"] for r in listed] == ["flight.csv", "other.csv"]


def test_its_numbers_are_taken_back_and_count_again_when_it_is_sent_again(school, as_, files):
    sortie = school.brought_to("briefed")
    content = file_of(sortie, figures=("f1", "f2"))
    made = sent(as_("bo"), sortie, content).json()
    before = as_("bo").get(url(sortie)).json()["attempts"]
    for _ in range(2):
        aside = as_("bo").post(f"{url(sortie)}/recordings/{made['id']}/aside")
        assert [r["set_aside"] for r in aside.json()] == [True]
        left = as_("bo").get(url(sortie)).json()["attempts"]
        assert all(a["lowest_ft"] is None and a["most_g"] is None for a in left)
        assert as_("bo").get(f"{url(sortie)}/traces/f1").json() is None
        again = sent(as_("bo"), sortie, content).json()
        assert (again["id"], again["set_aside"]) == (made["id"], False)
        assert as_("bo").get(url(sortie)).json()["attempts"] == before
    missing = as_("bo").post(f"{url(sortie)}/recordings/999/aside")
    assert missing.status_code == 422


OTHER = "Clock;Altitude;Speed;Load"


def foreign(sortie):
    """The same flight as another device writes it: names that say little, numbers in metres."""
    lines = file_of(sortie, figures=("f1", "f2")).decode().splitlines()
    rows = [line.split(",")[:4] for line in lines[1:]]
    metres = [";".join([t, f"{float(h) * 0.3048:.2f}", v, g]) for t, h, v, g in rows]
    return "\n".join([OTHER, *metres, ""]).encode()


def looked(client, sortie, content):
    return client.post(
        f"{url(sortie)}/recordings/look", content[:5000], content_type="application/octet-stream"
    )


def test_a_table_is_looked_at_first_and_which_column_is_what_is_remembered(school, as_, files):
    sortie = school.brought_to("briefed")
    ours = looked(as_("bo"), sortie, file_of(sortie)).json()
    assert (ours["ready"], ours["remembered"]) == (True, False)
    content = foreign(sortie)
    seen = looked(as_("bo"), sortie, content).json()
    assert (seen["ready"], seen["headers"]) == (False, OTHER.split(";"))
    assert len(seen["rows"]) == 5
    taken = {c["column"]: (c["header"], c["unit"], c["sure"]) for c in seen["columns"]["columns"]}
    assert taken["pressure_height_ft"] == ("Altitude", "ft", False)
    assert {c["column"]: c["units"] for c in seen["choices"]}["height_ft"] == ["ft", "m"]
    for column in seen["columns"]["columns"]:
        column["unit"] = "m" if column["header"] == "Altitude" else column["unit"]
    seen["columns"]["columns"].append({"header": "Load", "column": "g", "unit": "g"})
    asked = f"{url(sortie)}/recordings?name=f.csv&columns={quote(json.dumps(seen['columns']))}"
    made = as_("bo").post(asked, content, content_type="application/octet-stream").json()
    assert made["flight"]["figures"][0]["measured"]["start_ft"] == pytest.approx(
        sortie.plan["figures"][0]["start_ft"], abs=30
    )
    again = looked(as_("bo"), school.brought_to("briefed", "dee"), content).json()
    assert (again["ready"], again["remembered"], again["columns"]) == (
        True,
        True,
        seen["columns"] | {"columns": again["columns"]["columns"]},
    )
    assert {c["header"]: c["unit"] for c in again["columns"]["columns"]}["Altitude"] == "m"


def test_the_same_file_read_otherwise_says_something_else_in_the_same_place(school, as_, files):
    sortie = school.brought_to("briefed")
    content = file_of(sortie, figures=("f1", "f2"))
    sent(as_("bo"), sortie, content)
    before = as_("bo").get(url(sortie)).json()["attempts"]
    bare = {
        "columns": [
            {"header": c, "column": c, "unit": u} for c, u in (("time_s", "s"), ("pressure_height_ft", "ft"))
        ]
    }
    asked = f"{url(sortie)}/recordings?name=f.csv&columns={quote(json.dumps(bare))}"
    made = as_("bo").post(asked, content, content_type="application/octet-stream").json()
    assert "Heading kept, turns of a spin: no heading" in made["flight"]["missing"]
    after = as_("bo").get(url(sortie)).json()["attempts"]
    assert len(as_("bo").get(f"{url(sortie)}/recordings").json()) == 1
    assert [a["most_g"] is not None for a in before] == [True, True]
    assert all(a["most_g"] is None and a["otherwise"] == [] for a in after)
    sent(as_("bo"), sortie, content)
    assert as_("bo").get(url(sortie)).json()["attempts"] == before


@pytest.mark.parametrize(
    ("columns", "words"),
    [
        ("{", "not JSON"),
        ("[]", "not an object"),
        ('{"columns": [{"header": "x", "column": "time_s", "unit": "kt"}]}', "not read in"),
    ],
)
def test_a_column_map_that_is_none_is_refused(school, as_, files, columns, words):
    sortie = school.brought_to("briefed")
    asked = f"{url(sortie)}/recordings?columns={quote(columns)}"
    answer = as_("bo").post(asked, file_of(sortie), content_type="application/octet-stream")
    assert answer.status_code == 422
    assert words in json.dumps(answer.json())


def test_of_what_is_no_table_there_is_nothing_to_look_at_or_a_reason(school, as_, files):
    sortie = school.brought_to("briefed")
    track = looked(as_("bo"), sortie, b"AXXX\nHFDTE010526\nB1000005012345N00712345EA0100001010\n").json()
    assert (track["columns"], track["ready"]) == (None, True)
    refused = looked(as_("bo"), sortie, b"hello")
    assert (refused.status_code, refused.json()["problems"][0]["what"][:14]) == (422, "it is no table")


def test_the_trace_of_an_attempt_begins_before_it_and_ends_after_it(school, as_, files):
    sortie = school.brought_to("briefed")
    body = sent(as_("bo"), sortie, file_of(sortie)).json()
    measured = body["flight"]["figures"][0]["measured"]
    trace = as_("ana").get(f"{url(sortie)}/traces/{body['flight']['figures'][0]['attempt']}").json()
    assert trace["seconds"][0] == pytest.approx(-3, abs=0.2)
    assert trace["seconds"][-1] == pytest.approx(measured["ends_s"] - measured["begins_s"] + 3, abs=0.3)
    assert min(trace["height_ft"]) == pytest.approx(measured["lowest_ft"], abs=15)
    assert len({len(column) for column in trace.values()}) == 1
    assert as_("bo").get(f"{url(sortie)}/traces/none").json() is None


@pytest.mark.parametrize(
    ("content", "status", "words"),
    [
        (b"", 422, "it is empty"),
        (b"hello\nthere", 422, "no table"),
        (b"lat,lon\n" + b"50,7\n" * 40, 422, "time"),
    ],
)
def test_what_is_no_recording_is_refused_and_nothing_is_kept(school, as_, files, content, status, words):
    sortie = school.brought_to("briefed")
    answer = sent(as_("bo"), sortie, content)
    assert answer.status_code == status
    assert words in answer.json()["problems"][0]["what"]
    assert not Recorded.objects.exists()
    assert not (files / "recordings").exists()


def test_a_file_too_large_is_refused(school, as_, files, monkeypatch):
    sortie = school.brought_to("briefed")
    content = file_of(sortie, figures=("f1",))
    monkeypatch.setattr(recordings, "MOST_BYTES", len(content) - 1)
    assert "MB" in sent(as_("bo"), sortie, content).json()["problems"][0]["what"]
    monkeypatch.setattr(recordings, "MOST_BYTES", len(content))
    assert sent(as_("bo"), sortie, content).status_code == 201


def test_nobody_else_adds_one_and_none_before_the_brief(school, as_, files):
    sortie = school.brought_to("briefed")
    content = file_of(sortie)
    for who in ("chief", "cy", "ana"):
        assert sent(as_(who), sortie, content).status_code == 403
    assert sent(as_("dee"), sortie, content).status_code == 404
    planned = school.sortie()
    assert sent(as_("bo"), planned, content).status_code == 403


@pytest.mark.long
def test_of_a_signed_sortie_no_recording_is_added_nor_changed(school, as_, files):
    other = school.brought_to("briefed")
    content = file_of(other, figures=("f1",))
    row = Recorded.objects.get(pk=sent(as_("bo"), other, content).json()["id"])
    sortie = school.brought_to("debriefed")
    row.pk, row.sortie = None, sortie
    row.save()
    assert post(as_("bo"), url(sortie, "/sign"), to_sign(sortie)).status_code == 200
    assert sent(as_("bo"), sortie, content).status_code == 403
    assert as_("bo").post(f"{url(sortie)}/recordings/{row.pk}/aside").status_code == 403
    assert [r["name"] for r in as_("ana").get(f"{url(sortie)}/recordings").json()] == ["flight.csv"]
    for change in (lambda: Recorded.objects.filter(pk=row.pk).update(name="x"), row.delete):
        with pytest.raises(DatabaseError, match="does not change"), transaction.atomic():
            change()


def test_a_file_that_is_gone_or_changed_is_not_given_out(school, as_, files):
    sortie = school.brought_to("briefed")
    made = sent(as_("bo"), sortie, file_of(sortie)).json()
    path = files / "recordings" / made["digest"][:2] / made["digest"]
    path.write_bytes(path.read_bytes()[:-1])
    where = f"{url(sortie)}/recordings/{made['id']}/file"
    assert as_("bo").get(where).status_code == 404
    path.unlink()
    assert as_("bo").get(where).status_code == 404


def test_names_that_cannot_be_shown_lose_what_cannot(school, as_, files):
    sortie = school.brought_to("briefed")
    content = file_of(sortie, figures=("f1",))
    assert sent(as_("bo"), sortie, content, "%07a%0Ab.csv").json()["name"] == "ab.csv"
    assert sent(as_("bo"), sortie, content + b"\n", "").json()["name"] == "recording"


def technique(client, sortie, attempt):
    return client.get(f"{url(sortie)}/looks/{attempt}").json()["technique"]


def test_how_an_attempt_was_flown_comes_from_the_recording_else_from_the_notes(school, as_, files):
    sortie = school.brought_to("briefed")
    at, spin = spin_of(sortie)
    assert technique(as_("bo"), sortie, spin) is None  # nothing is known of it
    assert technique(as_("bo"), sortie, "none") is None
    noted(as_("bo"), sortie, figure_entry(sortie, at), *heights(spin, 6000, 5250))
    from_notes = technique(as_("bo"), sortie, spin)
    assert not from_notes["recorded"]
    assert from_notes["lanes"] is None
    assert adds_up(from_notes["account"])
    sent(as_("bo"), sortie, file_of(sortie, controls=True))
    recorded = technique(as_("ana"), sortie, spin)
    assert recorded["recorded"]
    assert recorded["lanes"]["from_controls"]
    assert adds_up(recorded["account"])
    assert recorded["account"]["flown"]["inputs"][0]["source"]["words"] == "recorder"
    one = as_("bo").get(f"{url(sortie)}/recordings").json()[0]["id"]
    post(as_("bo"), url(sortie, f"/recordings/{one}/aside"), {})
    assert not technique(as_("bo"), sortie, spin)["recorded"]


def spin_of(sortie):
    figures = enumerate(sortie.plan["figures"])
    return next((at, f["id"]) for at, f in figures if f["key"] in ("spin", "incipient_spin"))


def heights(attempt, start, lowest):
    return entry(attempt, "start_ft", start), entry(attempt, "lowest_ft", lowest)


def adds_up(account):
    steps = sum(step["height"]["value"] for step in account["steps"])
    return abs(account["best"]["value"] + steps - account["flown"]["value"]) < 1e-6


@pytest.mark.long
def test_a_recording_whose_file_is_gone_leaves_what_was_noted(school, as_, files):
    sortie = school.brought_to("briefed")
    _, spin = spin_of(sortie)
    digest = sent(as_("bo"), sortie, file_of(sortie)).json()["digest"]
    assert technique(as_("bo"), sortie, spin)["recorded"]
    recordings._path(digest).unlink()
    assert not technique(as_("bo"), sortie, spin)["recorded"]


def test_an_earlier_go_at_the_same_figure_is_found_for_the_same_student(school, as_, files):
    first, second, another = (school.brought_to("briefed", student) for student in ("ana", "ana", "dee"))
    Sortie.objects.filter(pk=first.pk).update(planned_for=first.planned_for - timedelta(days=3))
    Sortie.objects.filter(pk=another.pk).update(planned_for=first.planned_for - timedelta(days=4))
    spin = next(f["id"] for f in first.plan["figures"] if f["key"] == "spin")
    made = {
        one.pk: sent(as_("bo"), one, file_of(one, figures={spin})).json() for one in (first, second, another)
    }
    (found,) = made[first.pk]["flight"]["figures"]
    (mine,) = made[second.pk]["flight"]["figures"]
    (go,) = as_("ana").get(url(second, f"/earlier/{mine['attempt']}")).json()
    assert (go["sortie_id"], go["attempt"], go["found"]) == (first.pk, found["attempt"], found)
    assert as_("ana").get(url(first, f"/traces/{go['attempt']}")).status_code == 200
    # Nothing came before the first, and what is taken back is nothing to be set against.
    assert as_("bo").get(url(first, f"/earlier/{found['attempt']}")).json() == []
    as_("bo").post(url(first, f"/recordings/{made[first.pk]['id']}/aside"))
    assert as_("bo").get(url(second, f"/earlier/{mine['attempt']}")).json() == []
