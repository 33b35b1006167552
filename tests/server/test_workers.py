"""Expensive questions in processes of their own: limits, time, an end, and what is asked ahead."""

import os
import threading
from contextlib import contextmanager
from types import SimpleNamespace

import pytest

from keelturn.formats.reading import Refused
from server import workers as room
from server.workers import Asked, Crowded, NobodyWaits, TookTooLong, Workers
from tests.server import sleepers
from tests.server.conftest import post
from tests.servers import PATIENCE_S, wait_for


@pytest.fixture(scope="module")
def pool():
    made = Workers()
    made.open(1)
    yield made
    made.close()


@pytest.fixture(autouse=True)
def patient(monkeypatch):
    """What takes too long is a matter of one test alone."""
    monkeypatch.setattr(room, "LONGEST_S", PATIENCE_S)


def somebody(pk=1, gone=lambda: False):
    return SimpleNamespace(user=SimpleNamespace(pk=pk), META={"waitress.client_disconnected": gone})


def test_a_question_is_answered_in_a_process_of_its_own_behind_everything_else(pool):
    assert pool.answer(somebody(), sleepers.double, 21) == 42
    assert pool.answer(somebody(), sleepers.how_nice) == os.nice(0) + 10


def test_what_is_refused_there_is_refused_here(pool):
    with pytest.raises(Refused) as error:
        pool.answer(somebody(), sleepers.refuse)
    assert (error.value.problems[0].where, error.value.problems[0].do) == ("plan", "Correct it.")


def test_a_fault_there_is_a_fault_here(pool):
    with pytest.raises(KeyError):
        pool.answer(somebody(), sleepers.fail)
    with pytest.raises(TookTooLong):
        pool.answer(somebody(), sleepers.die)
    assert pool.answer(somebody(), sleepers.double, 2) == 4


def test_without_a_pool_it_is_answered_where_it_is_asked():
    assert Workers().answer(somebody(), sleepers.double, 3) == 6


@contextmanager
def asked(pool, gate, people):
    """These people wait for an answer meanwhile, which comes when the gate is there: at the end at latest."""

    def ask(pk):
        pool.answer(somebody(pk), sleepers.wait_until_there_is, str(gate))

    threads = [threading.Thread(target=ask, args=(pk,)) for pk in people]
    for thread in threads:
        thread.start()
    wait_for(lambda: pool._waiting.total() == len(people), "all of them wait")
    yield
    gate.touch()
    for thread in threads:
        thread.join()


def test_one_person_has_a_limit_and_others_are_not_touched(pool, tmp_path):
    gate = tmp_path / "gate"
    with asked(pool, gate, [7] * room.MOST_OF_ONE):
        with pytest.raises(Crowded, match="of your questions"):
            pool.answer(somebody(7), sleepers.double, 1)
        gate.touch()
        assert pool.answer(somebody(8), sleepers.double, 1) == 2
    assert pool.answer(somebody(7), sleepers.double, 1) == 2


def test_all_together_have_a_limit(pool, monkeypatch, tmp_path):
    monkeypatch.setattr(room, "MOST", 3)
    with asked(pool, tmp_path / "gate", [1, 2, 3]), pytest.raises(Crowded, match="questions wait"):
        pool.answer(somebody(4), sleepers.double, 1)


def test_what_takes_too_long_is_stopped_and_the_next_is_answered(pool, monkeypatch):
    monkeypatch.setattr(room, "LONGEST_S", 0.5)
    with pytest.raises(TookTooLong):
        pool.answer(somebody(), sleepers.sleep, 10 * PATIENCE_S)
    monkeypatch.setattr(room, "LONGEST_S", PATIENCE_S)
    assert pool.answer(somebody(), sleepers.double, 5) == 10


def test_when_nobody_waits_any_more_it_is_stopped(pool):
    with pytest.raises(NobodyWaits):
        pool.answer(somebody(gone=lambda: True), sleepers.sleep, 10 * PATIENCE_S)
    assert pool.answer(somebody(), sleepers.double, 6) == 12


def test_what_nobody_waits_for_is_answered_in_order_and_what_fails_is_left_out(pool):
    found = []
    done = threading.Event()
    asked = [Asked(sleepers.double, (1,), found.append), Asked(sleepers.die, (), found.append)]
    pool.meanwhile(iter([*asked, Asked(sleepers.double, (2,), lambda it: (found.append(it), done.set()))]))
    assert done.wait(PATIENCE_S)
    assert found == [2, 4]


def test_without_a_pool_nothing_is_asked_ahead():
    Workers().meanwhile(iter([Asked(sleepers.die, (), pytest.fail)]))


@pytest.mark.parametrize(
    ("error", "status", "again"),
    [(Crowded("2 of your questions are being worked on", 5), 429, "5"), (TookTooLong(), 503, "30")],
)
def test_the_doors_say_it_in_words(school, as_, monkeypatch, error, status, again):
    def refuse(*_):
        raise error

    sortie = school.sortie()
    monkeypatch.setattr("server.workers.workers.answer", refuse)
    plan = {"plan": sortie.plan, "aircraft_id": school.aircraft.pk, "place_id": school.place.pk}
    for door in ("fit", "closer"):
        response = post(as_("bo"), f"/api/sorties/{sortie.pk}/{door}", {**plan, "figure": "f1"})
        assert (response.status_code, response["Retry-After"]) == (status, again)
        assert response.json()["problems"][0]["do"]
    url = f"/api/figures/loop/book?aircraft_id={school.aircraft.pk}&place_id={school.place.pk}"
    assert as_("bo").get(url).status_code == status
    new = {"student_id": sortie.student_id, "aircraft_id": school.aircraft.pk}
    assert post(as_("bo"), "/api/sorties/proposal", new).status_code == status


def test_without_room_nothing_is_prepared(school, as_, monkeypatch):
    sortie = school.sortie()
    monkeypatch.setattr("server.workers.workers._pool", object())
    monkeypatch.setattr(room, "MOST", 0)
    for prepares in ("planning.conditions_for", "planning.setting_of", "fleet.spins_recorded"):
        monkeypatch.setattr(f"server.api.{prepares}", lambda *_, **__: pytest.fail("it was prepared"))
    monkeypatch.setattr("server.api.recordings.bytes_sent", lambda *_: pytest.fail("it was read"))
    aircraft = school.aircraft.pk
    plan = {"plan": sortie.plan, "aircraft_id": aircraft, "place_id": school.place.pk, "figure": "f1"}
    new = {"student_id": sortie.student_id, "aircraft_id": aircraft}
    doors = [(f"sorties/{sortie.pk}/fit", plan), (f"sorties/{sortie.pk}/closer", plan)]
    doors += [("sorties/proposal", new), (f"sorties/{sortie.pk}/recordings", {})]
    for door, body in doors:
        assert post(as_("bo"), f"/api/{door}", body).status_code == 429, door
    assert as_("chief").get(f"/api/aircraft/{aircraft}/spins").status_code == 429


@pytest.mark.parametrize(("figures", "asks"), [(15, 0), (16, 1), (60, 1)])
def test_only_a_long_plan_is_previewed_by_a_worker(school, as_, monkeypatch, figures, asks):
    sortie, seen = school.sortie(), []
    monkeypatch.setattr("server.workers.workers.answer", lambda *asked: seen.append(asked) or b"{}")
    monkeypatch.setattr("server.api.planning.previewed", lambda *_: b"{}")
    turns = [{"id": f"t{i}", "key": "steep_turn", "start_ft": 5000} for i in range(figures)]
    draft = {"aircraft_id": school.aircraft.pk, "place_id": school.place.pk}
    plan = {**sortie.plan, "figures": turns}
    assert post(as_("bo"), f"/api/sorties/{sortie.pk}/preview", {**draft, "plan": plan}).status_code == 200
    assert len(seen) == asks
    too_many = {**plan, "figures": [*turns, *({**turns[0], "id": f"u{i}"} for i in range(61 - figures))]}
    assert (
        post(as_("bo"), f"/api/sorties/{sortie.pk}/preview", {**draft, "plan": too_many}).status_code == 422
    )


def test_one_that_has_hardly_begun_is_not_waited_for_and_one_that_has_is():
    pool, over = Workers(), threading.Event()
    pool._pool, pool._beginning = object(), threading.Thread(target=over.wait)
    pool._beginning.start()
    assert not pool.close()
    over.set()
    pool.open(1)
    pool._beginning.join()
    assert pool.answer(somebody(), sleepers.double, 4) == 8
    assert pool.close()
