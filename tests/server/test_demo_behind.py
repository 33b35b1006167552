"""The demo school loaded behind its first pages: how far it is, and going on where it was."""

from dataclasses import replace
from datetime import date

import pytest

from server.school.demo import behind, loading
from server.school.demo.behind import Progress, begin, go_on, progress
from server.school.models import ChainLink, DueDate, Person, Sortie, Student

DAY = date(2026, 5, 14)
pytestmark = pytest.mark.django_db


def nothing(*_):
    return {}


@pytest.fixture
def small(monkeypatch, settings, tmp_path):
    """Petra's first lesson at once, two of Una's behind it."""
    settings.DATA = tmp_path
    settings.PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
    pasts = {past.username: past for past in loading.PASTS}
    few = {"petra": 1, "una": 2}
    lessons = [replace(pasts[name], lessons=pasts[name].lessons[:n]) for name, n in few.items()]
    monkeypatch.setattr(loading, "PASTS", tuple(lessons))
    monkeypatch.setattr(loading, "FLIGHTS", ())
    monkeypatch.setattr(loading, "_todays_sorties", nothing)
    monkeypatch.setattr(behind, "PAUSE_S", 0)
    return tmp_path


def flown(name):
    return list(Sortie.objects.filter(student__person__username=name, stage="signed"))


def test_what_today_shows_is_there_first_and_the_rest_is_said_to_come(small, client):
    assert client.get("/api/session").json()["loading"] is None
    begin(small, DAY, nothing)
    assert progress(small) == Progress(DAY, 0, 3)
    assert (len(flown("petra")), len(flown("una"))) == (1, 0)
    assert client.get("/api/session").json()["loading"] == {"done": 0, "of": 3}
    go_on(small, nothing)
    assert len(flown("una")) == 2
    assert progress(small) is None
    assert client.get("/api/session").json()["loading"] is None


def test_cut_off_in_the_middle_of_a_lesson_it_goes_on_and_has_each_once(small, monkeypatch):
    begin(small, DAY, nothing)
    seal, sealed = loading.seal, []

    def cut_off(*of):
        if len(sealed) == 1:
            raise KeyboardInterrupt
        sealed.append(of)
        return seal(*of)

    monkeypatch.setattr(loading, "seal", cut_off)
    with pytest.raises(KeyboardInterrupt):
        go_on(small, nothing)
    assert progress(small) == Progress(DAY, 1, 3)
    # Nothing of the second.
    assert Sortie.objects.filter(student__person__username="una").count() == len(flown("una")) == 1
    monkeypatch.setattr(loading, "seal", seal)
    said = []
    monkeypatch.setattr(behind, "sleep", lambda pause: said.append(progress(small).done))
    behind._note(small, Progress(DAY, 2, 3))
    go_on(small, nothing)
    assert said == [2, 2, 3]
    assert len(flown("una")) == 2
    assert ChainLink.objects.count() == 3
    dates = DueDate.objects.count()
    assert dates > 0
    # Once more, as where the note of the last part was lost: nothing is there twice.
    behind._note(small, Progress(DAY, 0, 3))
    go_on(small, nothing)
    assert (ChainLink.objects.count(), DueDate.objects.count()) == (3, dates)
    assert len(flown("una")) == 2


def test_what_is_not_being_loaded_is_left_alone(small):
    go_on(small, nothing)
    assert not Person.objects.exists()
    behind._note(small, Progress(DAY, 2, 3))
    # A note without a school is no school.
    go_on(small, nothing)
    assert not Student.objects.exists()
