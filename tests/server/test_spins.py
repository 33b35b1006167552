"""A card beside the spins that were recorded, and the card that the chief puts in its place."""

from dataclasses import replace

import pytest

from keelturn.formats.answers import as_csv
from keelturn.recording.recorder import Sensors, record
from server.school.models import Change, Recorded, Sortie
from server.school.operations.computing import conditions_for, plan_of
from server.school.operations.spins import LOOKED_AT, spins_recorded
from tests.core.test_spins_flown import card
from tests.server.conftest import put
from tests.server.test_recordings import sent

TURNS = 3.0


def flown_with(school, as_, aircraft, seed):
    """Debriefed, with a recording of two spins in this aircraft."""
    sortie = school.brought_to("briefed")
    plan = sortie.plan
    spin = next(f for f in plan["figures"] if f["key"] == "spin")
    two = [
        {**spin, "id": f"s{side}", "side": side, "parameters": {"turns": TURNS}, "start_ft": 6000.0}
        for side in ("left", "right")
    ]
    Sortie.objects.filter(pk=sortie.pk).update(plan={**plan, "figures": two})
    sortie.refresh_from_db()
    conditions = replace(conditions_for(sortie, plan_of(sortie)), card=aircraft)
    table = record(plan_of(sortie).figures, conditions, Sensors(rate_hz=8, seed=seed))
    content = as_csv(table.columns, table.rows.round(3).tolist())
    assert sent(as_("bo"), sortie, content).status_code == 201
    Sortie.objects.filter(pk=sortie.pk).update(stage="debriefed")
    sortie.refresh_from_db()
    return sortie


@pytest.fixture
def flown(school, as_, files):
    dearer = card(further_turn_ft=260.0, turn_s=2.1)
    return [flown_with(school, as_, dearer, seed) for seed in (1, 2, 3)]


@pytest.mark.long
def test_what_was_recorded_goes_into_the_card_when_the_chief_says_so(school, as_, flown):
    door = f"/api/aircraft/{school.aircraft.pk}/spins"
    answer = as_("chief").get(door).json()
    found = answer["beside"]
    assert (found["spins"], found["flights"]) == (6, 3)
    by = {one["key"]: one for one in found["numbers"]}
    assert by["further_turn_ft"]["becomes"] == pytest.approx(260.0, abs=15.0)
    assert by["turn_s"]["becomes"] == pytest.approx(2.1, abs=0.15)
    school.aircraft.refresh_from_db()
    before = school.aircraft.card
    assert before["spin"]["further_turn_ft"]["value"] == 215.0
    body = {"version": answer["version"], "registration": "QX-TST", "card": found["card"]}
    assert put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", body).status_code == 200
    assert put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", body).status_code == 422
    school.aircraft.refresh_from_db()
    spin = school.aircraft.card["spin"]
    assert spin["further_turn_ft"]["value"] == by["further_turn_ft"]["becomes"]
    assert spin["further_turn_ft"]["source"] == "measured here"
    (change,) = Change.objects.filter(subject=f"aircraft {school.aircraft.pk}")
    assert change.before["card"]["spin"] == before["spin"]
    # Asked again, it is as its card says.
    assert as_("chief").get(door).json()["beside"]["card"] is None


def test_which_recordings_are_looked_at(school, as_, flown, monkeypatch):
    def spins():
        return len(spins_recorded(school.aircraft))

    assert spins() == 6
    assert spins_recorded(school.no_spins) == []
    (one, *_) = flown
    Sortie.objects.filter(pk=one.pk).update(stage="flown")
    assert spins() == 4
    Recorded.objects.filter(sortie=flown[1]).update(set_aside=True)
    assert spins() == 2
    (first, _) = flown[2].attempts.all()
    first.attempt = {**first.attempt, "faults": ["power_late"]}
    first.save()
    assert spins() == 1
    Sortie.objects.filter(pk=flown[2].pk).update(plan={"version": 1})
    assert spins() == 0
    assert LOOKED_AT >= 20


@pytest.mark.long
def test_the_latest_of_many_oldest_first(school, as_, flown, monkeypatch):
    monkeypatch.setattr("server.school.operations.spins.LOOKED_AT", 2)
    assert [one.flight for one in spins_recorded(school.aircraft)] == [f.pk for f in flown[1:] for _ in "ab"]


@pytest.mark.long
def test_the_database_is_asked_as_often_whatever_the_number(school, as_, flown, django_assert_num_queries):
    with django_assert_num_queries(3):
        spins_recorded(school.aircraft)
    Recorded.objects.filter(sortie=flown[0]).update(set_aside=True)
    with django_assert_num_queries(3):
        spins_recorded(school.aircraft)


def test_a_card_without_spins_is_refused_in_words(school, as_):
    answer = as_("chief").get(f"/api/aircraft/{school.no_spins.pk}/spins")
    assert answer.status_code == 422
    assert answer.json()["problems"][0]["what"] == "this card has no spin section"
