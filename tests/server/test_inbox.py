"""Recorders' files that are in no sortie: they wait, are offered to those they fit, and leave when one takes
them."""

from datetime import timedelta

import pytest

from server import clock, recordings
from server.school.models import EntryRow, Recorded, Waiting
from tests.server.conftest import post
from tests.server.sheets import url
from tests.server.test_recordings import file_of, sent


def track(at, aircraft="QX-TST", minutes=2):
    """Level, as IGC, from this moment on."""
    fixes = (f"B{at + timedelta(seconds=s):%H%M%S}5801000N00924000WA0120001200" for s in range(60 * minutes))
    return f"AXXX001\nHFDTE{at:%d%m%y}\nHFGIDGLIDERID:{aircraft}\n".encode() + "\n".join(fixes).encode()


def put(client, content, name="flight.igc"):
    return client.post(f"/api/inbox?name={name}", content, content_type="application/octet-stream")


@pytest.fixture
def flying(school, files):
    """A briefed sortie, and the registration of its aircraft."""
    sortie = school.brought_to("briefed")
    return sortie, sortie.aircraft.registration


def test_a_file_waits_and_is_offered_to_the_sortie_of_its_day_and_aircraft(flying, school, as_):
    sortie, aircraft = flying
    made = put(as_("bo"), track(sortie.planned_for + timedelta(minutes=20), aircraft))
    assert made.status_code == 201, made.content
    body = made.json()
    assert (body["name"], body["aircraft"], body["by"]) == ("flight.igc", aircraft, "Bo")
    assert [offer["sortie_id"] for offer in body["fits"]] == [sortie.pk]
    assert [one["id"] for one in as_("bo").get("/api/inbox").json()] == [body["id"]]
    # Another may see it, and may not note in that sortie.
    assert as_("cy").get("/api/inbox").json()[0]["fits"] == []
    # Sent twice it waits once.
    put(as_("bo"), track(sortie.planned_for + timedelta(minutes=20), aircraft))
    assert Waiting.objects.count() == 1


def test_what_is_of_another_day_or_aircraft_is_offered_to_none(flying, as_):
    sortie, aircraft = flying
    early = put(as_("bo"), track(sortie.planned_for - timedelta(days=1), aircraft)).json()
    other = put(as_("bo"), track(sortie.planned_for, "QX-ELSE")).json()
    assert (early["fits"], other["fits"]) == ([], [])


def test_a_file_without_a_day_is_offered_to_what_was_to_be_flown_lately(school, as_, files, monkeypatch):
    sortie = school.brought_to("briefed")
    lately = sortie.planned_for + timedelta(hours=5)
    monkeypatch.setattr(clock, "now", lambda: lately)
    Waiting._meta.get_field("at").default = clock.now
    made = put(as_("bo"), file_of(sortie), "flight.csv").json()
    assert made["began"] is None
    Waiting.objects.update(at=lately)
    assert [offer["sortie_id"] for offer in as_("bo").get("/api/inbox").json()[0]["fits"]] == [sortie.pk]
    Waiting.objects.update(at=lately + timedelta(hours=26))
    assert as_("bo").get("/api/inbox").json()[0]["fits"] == []


def test_taken_into_a_sortie_it_waits_no_longer(flying, as_):
    sortie, _ = flying
    content = file_of(sortie)
    waiting = put(as_("bo"), content, "flight.csv").json()
    back = as_("bo").get(f"/api/inbox/{waiting['id']}/file")
    assert back.content == content
    assert sent(as_("bo"), sortie, back.content).status_code == 201
    assert as_("bo").get("/api/inbox").json() == []


def test_one_that_was_read_into_the_wrong_sortie_says_so_and_is_put_into_the_inbox(flying, as_):
    sortie, aircraft = flying
    made = sent(as_("bo"), sortie, track(sortie.planned_for - timedelta(days=2), "QX-ELSE")).json()
    day, called = made["doubts"]
    assert day.startswith("It was recorded on ")
    assert called == f"The file calls its aircraft QX-ELSE; this sortie is in {aircraft}."
    left = post(as_("bo"), url(sortie, f"/recordings/{made['id']}/elsewhere"), {})
    assert [one["set_aside"] for one in left.json()] == [True]
    (waits,) = as_("bo").get("/api/inbox").json()
    assert (waits["name"], waits["aircraft"], waits["fits"]) == (made["name"], "QX-ELSE", [])
    assert Recorded.objects.count() == 1
    assert EntryRow.objects.filter(sortie=sortie).count() == 0


def test_its_own_file_leaves_no_doubt(flying, as_):
    sortie, aircraft = flying
    content = track(sortie.planned_for + timedelta(minutes=5), aircraft)
    assert sent(as_("bo"), sortie, content).json()["doubts"] == []
    # It is there already: not offered to it again.
    assert put(as_("bo"), content).json()["fits"] == []


def test_what_is_no_recording_is_refused_and_does_not_wait(as_, school, files):
    answer = put(as_("bo"), b"nothing of the kind")
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["do"]
    assert Waiting.objects.count() == 0


def test_a_table_whose_columns_have_to_be_told_waits_until_somebody_tells_them(as_, school, files):
    rows = "\n".join(f"{n};{1500 + n}" for n in range(40))
    made = put(as_("bo"), f"elapsed;wert\n{rows}\n".encode(), "foreign.csv")
    assert made.status_code == 201, made.content
    assert (made.json()["began"], made.json()["aircraft"]) == (None, "")


def test_thrown_away_it_is_gone_with_its_bytes_unless_a_sortie_has_them(
    flying, as_, django_capture_on_commit_callbacks
):
    sortie, aircraft = flying
    content = track(sortie.planned_for, aircraft)
    for taken in (False, True):
        if taken:
            sent(as_("bo"), sortie, content)
        waiting = put(as_("bo"), content).json()
        with django_capture_on_commit_callbacks(execute=True):
            assert post(as_("cy"), f"/api/inbox/{waiting['id']}/throw-away", {}).json() == []
        assert as_("bo").get(f"/api/inbox/{waiting['id']}/file").status_code == 404
        assert (recordings.content_of(recordings.digest_of(content)) is not None) == taken
