"""A recorder's file read otherwise, from what was kept: its edges, names and cleaning as somebody says."""

from datetime import UTC, datetime, timedelta

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext

from server import recordings
from server.school.models import Recorded, Sortie
from tests.server.conftest import post
from tests.server.sheets import correction, entry, figure_entry, noted, url
from tests.server.test_recordings import file_of, sent, spin_of, technique


def again(client, sortie, recording, **how):
    body = {"flight": 1, "without": [], "figures": [], **how}
    return post(client, url(sortie, f"/recordings/{recording}/again"), body)


def marks_of(recording):
    return [
        {
            "begins_s": f["measured"]["begins_s"],
            "ends_s": f["measured"]["ends_s"],
            **{name: f[name] for name in ("key", "side", "planned")},
        }
        for f in recording["flight"]["figures"]
    ]


def test_an_edge_that_was_shifted_is_measured_again_and_a_hand_still_counts(school, as_, files):
    sortie = school.brought_to("briefed")
    at, spin = spin_of(sortie)
    noted(as_("bo"), sortie, figure_entry(sortie, at), entry(spin, "start_ft", 5555))
    one = sent(as_("bo"), sortie, file_of(sortie)).json()
    marks = marks_of(one)
    number = [mark["planned"] for mark in marks].index(spin)
    marks[number]["ends_s"] = marks[number]["begins_s"] + 3.0
    read = again(as_("bo"), sortie, one["id"], figures=marks)
    assert read.status_code == 200, read.content
    body = read.json()
    assert body["id"] == one["id"]
    assert body["flight"]["marks"] == marks
    shown = as_("bo").get(url(sortie)).json()
    before, after = (
        next(f for f in flight["figures"] if f["planned"] == spin)["measured"]["lowest_ft"]
        for flight in (one["flight"], body["flight"])
    )
    assert after > before + 100
    attempt = next(a for a in shown["attempts"] if a["id"] == spin)
    assert attempt["lowest_ft"] > before + 100
    assert attempt["start_ft"] == 5555
    assert technique(as_("bo"), sortie, spin)["recorded"]
    # As it was found again: the same numbers as at first.
    assert again(as_("bo"), sortie, one["id"]).json()["flight"] == one["flight"]


def test_what_was_read_on_another_qnh_says_so_until_it_is_read_again(school, as_, files):
    sortie = school.brought_to("briefed")
    spin = spin_of(sortie)[1]
    one = sent(as_("bo"), sortie, file_of(sortie, figures={spin})).json()
    listed = f"{url(sortie)}/recordings"
    assert [r["outdated"] for r in as_("bo").get(listed).json()] == [False]
    lowest = one["flight"]["figures"][0]["measured"]["lowest_ft"]
    sortie.refresh_from_db()
    sortie.plan["day"]["qnh_hpa"] = sortie.plan["day"].get("qnh_hpa", 1013.25) + 10.0
    Sortie.objects.filter(pk=sortie.pk).update(plan=sortie.plan)
    assert [r["outdated"] for r in as_("bo").get(listed).json()] == [True]
    read = again(as_("bo"), sortie, one["id"]).json()
    assert not read["outdated"]
    # Ten hectopascals more are some 270 ft more over the sea, by the ISA's 27 ft a hectopascal.
    now = read["flight"]["figures"][0]["measured"]["lowest_ft"]
    assert 240 < now - lowest < 300
    # What an older program read does not say with what.
    Recorded.objects.update(read_for=None)
    assert [r["outdated"] for r in as_("bo").get(listed).json()] == [False]


def test_one_taken_for_another_figure_is_an_attempt_of_that_and_one_left_out_is_none(school, as_, files):
    sortie = school.brought_to("briefed")
    one = sent(as_("bo"), sortie, file_of(sortie)).json()
    marks = marks_of(one)
    first, second = marks[0]["planned"], marks[1]["planned"]
    renamed = [{**marks[0], "key": "spiral_dive", "planned": None}, *marks[2:]]
    assert again(as_("bo"), sortie, one["id"], figures=renamed).status_code == 200
    shown = as_("bo").get(url(sortie)).json()
    assert {first, second}.isdisjoint(a["id"] for a in shown["attempts"] if a["lowest_ft"] is not None)
    assert "spiral_dive" in {a["planned"]["key"] for a in shown["attempts"]}


@pytest.mark.long
def test_a_step_of_cleaning_is_left_out_and_taken_again(school, as_, files):
    sortie = school.brought_to("briefed")
    one = sent(as_("bo"), sortie, file_of(sortie, g_bias=0.2)).json()
    read = again(as_("bo"), sortie, one["id"], without=["g bias"]).json()
    done = {step["key"]: step["done"] for step in read["flight"]["cleaned"]}
    assert done["g bias"] is False
    gs = [f["measured"]["most_g"] for f in (one["flight"]["figures"][0], read["flight"]["figures"][0])]
    assert gs[1] - gs[0] == pytest.approx(0.2, abs=0.05)


def test_what_cannot_be_read_so_or_by_whom_changes_nothing(school, as_, files):
    sortie = school.brought_to("briefed")
    one = sent(as_("bo"), sortie, file_of(sortie)).json()
    for who, how, status in (
        ("bo", {"flight": 2}, 422),
        ("bo", {"flight": 0}, 422),
        ("bo", {"without": ["soap"]}, 422),
        ("bo", {"figures": [{"begins_s": 5, "ends_s": 5, "key": "spin"}]}, 422),
        ("bo", {"figures": [{"begins_s": 5, "ends_s": 15, "key": "nothing"}]}, 422),
        ("cy", {}, 403),
        ("ana", {}, 403),
        ("dee", {}, 404),
    ):
        assert again(as_(who), sortie, one["id"], **how).status_code == status, (who, how)
        assert as_("bo").get(f"{url(sortie)}/recordings").json()[0]["flight"] == one["flight"], (who, how)


def test_a_file_that_is_gone_is_not_read_again(school, as_, files):
    sortie = school.brought_to("briefed")
    one = sent(as_("bo"), sortie, file_of(sortie)).json()
    recordings._path(one["digest"]).unlink()
    refused = again(as_("bo"), sortie, one["id"])
    assert refused.status_code == 422
    assert "not there any more" in refused.json()["problems"][0]["what"]
    assert again(as_("bo"), sortie, one["id"] + 1).status_code == 422


@pytest.mark.long
def test_what_was_tapped_in_flight_sets_the_clock_and_tells_which_go_is_which(school, as_, files):
    sortie = school.brought_to("briefed")
    one = sent(as_("bo"), sortie, file_of(sortie)).json()
    found = one["flight"]["figures"]
    assert [f["attempt"] for f in found] == [f["planned"] for f in found]
    assert all(f["taps"] == [] for f in found)
    began = datetime(2030, 1, 1, 10, 0, 5, tzinfo=UTC)
    for at, f in enumerate(found):
        when = (began + timedelta(seconds=f["measured"]["begins_s"])).isoformat()
        noted(
            as_("bo"),
            sortie,
            {**figure_entry(sortie, at, attempt=f"go-{at}"), "at": when},
            entry(f"go-{at}", "start_ft", 5000, at=when),
        )
    # They came from a tablet that had no network while the file was read.
    listed = f"{url(sortie)}/recordings"
    assert [r["outdated"] for r in as_("bo").get(listed).json()] == [True]
    read = again(as_("bo"), sortie, one["id"]).json()
    assert not read["outdated"]
    assert [f["attempt"] for f in read["flight"]["figures"]] == [f"go-{at}" for at in range(len(found))]
    assert read["flight"]["figures"][0]["taps"] == [
        {"what": "start_ft", "at_s": pytest.approx(found[0]["measured"]["begins_s"], abs=0.1)}
    ]
    step = read["flight"]["cleaned"][-1]
    assert (step["key"], step["done"], step["optional"]) == ("clock by the taps", True, True)
    attempts = as_("bo").get(url(sortie)).json()["attempts"]
    assert [a["id"] for a in attempts] == [f"go-{at}" for at in range(len(found))]
    assert technique(as_("bo"), sortie, "go-0")["recorded"]
    # What is corrected on the ground is no tap, and changes nothing of it.
    noted(as_("bo"), sortie, correction(sortie, "go-0", "start_ft", 5100))
    assert [r["outdated"] for r in as_("bo").get(listed).json()] == [False]
    left = again(as_("bo"), sortie, one["id"], without=["clock by the taps"]).json()
    assert [f["attempt"] for f in left["flight"]["figures"]] == [f["planned"] for f in found]


@pytest.mark.long
def test_how_often_the_database_is_asked_does_not_grow_with_the_recordings(school, as_, files):
    sortie = school.brought_to("briefed")
    first = sortie.plan["figures"][0]["id"]
    listed = f"{url(sortie)}/recordings"

    def asked():
        with CaptureQueriesContext(connection) as queries:
            as_("bo").get(listed)
        return len(queries)

    sent(as_("bo"), sortie, file_of(sortie, figures={first}))
    one = asked()
    sent(as_("bo"), sortie, file_of(sortie, seed=2, figures={first}))
    assert asked() == one
