"""A student's own numbers as they are kept: which flights count, for which flights, and who is shown them."""

import pytest

from keelturn.noting.attempt import Attempt
from server import clock
from server.school.models import AttemptRow, SchoolNumbers, Sortie, Student
from server.school.operations.computing import answer_for, conditions_of_record, plan_of
from server.school.operations.noting import note_attempts
from server.school.operations.own import own_numbers
from server.school.operations.saving import Sheets, save_sortie
from server.school.operations.showing import as_signed, signature_of
from server.school.operations.signing import sign_sortie
from server.school.operations.sorties import move_stage
from tests.server.conftest import PASSWORD, post
from tests.server.test_courses import CHECKED, SMALL, ana, fly

# In each lesson that is flown here.
SPINS = 2


@pytest.fixture
def flown(school, as_):
    """Three lessons of a stall and two spins, each much dearer than briefed."""
    assert post(as_("chief"), "/api/courses", {"course": SMALL}).status_code == 201
    return [fly(school, "spins", ago=ago, lowest_ft=3800, start_ft=4600) for ago in (60, 40, 20)]


def own_of(school, at=None):
    return own_numbers(ana(school), at or clock.now())


def test_nothing_is_known_before_a_debrief(school):
    assert own_of(school) == {}
    school.brought_to("flown")
    assert own_of(school) == {}


def test_what_was_debriefed_counts_and_what_was_taken_back_does_not(school, flown):
    counted = AttemptRow.objects.exclude(deviation=None).count()
    own = own_of(school)["spin"]
    assert counted == sum(len(plan_of(sortie).figures) for sortie in flown)
    assert own.attempts == 3 * SPINS
    assert own.usual > 0.5
    last = Sortie.objects.get(pk=flown[-1].pk)
    move_stage(school.people["bo"], last.pk, last.version, "flown")
    assert own_of(school)["spin"].attempts == 2 * SPINS
    assert own_of(school)["spin"].unsure > own.unsure


def test_the_schools_students_are_counted_with_each_debrief(school, flown):
    found = SchoolNumbers.objects.get()
    assert found.population["attempts"] == AttemptRow.objects.exclude(deviation=None).count()
    assert found.population["means"]["spin"] > 0
    # Of another student nothing was flown: theirs is the school's mean.
    other = own_numbers(school.student("dee"), clock.now())["spin"]
    assert (other.attempts, other.usual) == (0, found.population["means"]["spin"])


def test_a_flight_is_briefed_by_the_flights_before_it_alone(school, flown):
    second = Sortie.objects.get(pk=flown[1].pk)
    assert own_of(school, second.planned_for)["spin"].attempts == SPINS


def test_what_was_known_when_it_was_flown_stays_with_the_flight(school, flown):
    later = Sortie.objects.get(pk=flown[2].pk)
    known = answer_for(later).conditions.own
    assert known["spin"].attempts > 0
    # The flight before it is taken back: this one was flown all the same.
    before = Sortie.objects.get(pk=flown[1].pk)
    move_stage(school.people["bo"], before.pk, before.version, "flown")
    assert answer_for(Sortie.objects.get(pk=later.pk)).conditions.own == known


def test_the_next_plan_goes_by_the_stricter(school, as_, flown):
    sortie = school.sortie()
    figure = next(
        f
        for f in as_("bo").get(f"/api/sorties/{sortie.pk}").json()["answer"]["figures"]
        if f["key"] == "spin"
    )
    assert figure["own"]["rules"] == "own"
    assert (
        figure["worst"]["value"]
        == figure["own"]["worst"]["value"]
        > figure["own"]["population_worst"]["value"]
    )
    # Laid out by it, too.
    assert figure["start"]["value"] >= figure["lowest_start"]["value"]


def test_what_is_signed_keeps_what_was_known(school, as_, flown):
    bo = school.people["bo"]
    last = Sortie.objects.get(pk=flown[-1].pk)
    known = answer_for(last).conditions.own
    signed = sign_sortie(bo, last.pk, last.version, last.entries.count(), PASSWORD, lambda *_: {})
    record = as_signed(signature_of(Sortie.objects.get(pk=signed.pk)))
    assert record.own == known != {}
    assert conditions_of_record(record).own == known
    # It counts on.
    assert own_of(school)["spin"].attempts == 3 * SPINS


def test_a_correction_after_the_debrief_counts_at_once(school, flown):
    last = Sortie.objects.get(pk=flown[-1].pk)
    before = own_of(school)["spin"].usual
    row = last.attempts.filter(figure="spin").first()
    better = Attempt.model_validate({**row.attempt, "lowest_ft": 4200})
    note_attempts(school.people["bo"], last, [better], "again")
    assert own_of(school)["spin"].usual < before


def test_only_figures_of_the_brief_are_kept_with_a_flight(school, flown):
    kept = Sortie.objects.get(pk=flown[-1].pk)
    ids = {figure.id for figure in plan_of(kept).figures}
    assert set(kept.briefed_kept) == ids
    assert set(kept.own_kept) == {figure.key for figure in plan_of(kept).figures}
    open_one = school.sortie()
    assert (open_one.briefed_kept, open_one.own_kept) == (None, None)


@pytest.mark.parametrize("who", ["ana", "bo"])
def test_the_students_page_has_them_for_instructor_and_student(school, as_, flown, who):
    found = as_(who).get(f"/api/students/{ana(school).pk}").json()
    (spin,) = [o for o in found["own"] if o["figure"] == "spin"]
    assert spin["in_100"] > 60 and spin["least"] < spin["in_100"] < spin["most"]
    assert spin["worst_ft"] > spin["population_worst_ft"] > spin["population_likely_ft"]
    flown_at = [a for a in found["attempts"] if a["figure"] == "spin"]
    assert all(0 < a["best_ft"] < a["briefed_ft"] < a["lost_ft"] for a in flown_at)


def test_who_never_flew_has_none_on_their_page(school, as_):
    assert as_("bo").get(f"/api/students/{ana(school).pk}").json()["own"] == []


def test_noted_in_flight_it_counts_once_it_is_flown(school):
    """Entries come before the stage does: what the brief said is kept with the flight, and they are held
    against it then."""
    sortie = school.sortie()
    bo = school.people["bo"]
    sortie = save_sortie(bo, sortie.pk, sortie.version, Sheets(brief=CHECKED))
    sortie = move_stage(bo, sortie.pk, sortie.version, "briefed")
    spin = next(f for f in plan_of(sortie).figures if f.key == "spin")
    noted = {
        "id": "a",
        "planned": spin.model_dump(),
        "start_ft": 4600,
        "lowest_ft": 3600,
        "flown_by": "student alone",
    }
    note_attempts(bo, sortie, [Attempt.model_validate(noted)], "tests")
    assert [row.deviation for row in sortie.attempts.all()] == [None]
    move_stage(bo, sortie.pk, sortie.version, "flown")
    assert sortie.attempts.get().deviation > 0
    assert Student.objects.count() == 2
