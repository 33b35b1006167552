"""The student reads and asks; the chief keeps figures, aircraft and places, and every change stays."""

from copy import deepcopy

import pytest

from server.school.models import Aircraft, Change, Place, SchoolStandards
from tests.cards import changed, left_blank
from tests.server.conftest import post, put


def test_a_brief_is_ticked_as_read_and_a_later_change_shows(school, as_):
    sortie = school.sortie()
    url = f"/api/sorties/{sortie.pk}"
    assert as_("bo").get(url).json()["read"] is None
    assert post(as_("ana"), f"{url}/read", {}).json()["read"]["current"]
    assert as_("bo").get("/api/today").json()["sorties"][0]["read"]
    put(as_("bo"), url, {"version": sortie.version, "plan": {**sortie.plan, "own_floor_ft": 3400}})
    assert as_("bo").get(url).json()["read"]["current"] is False
    assert post(as_("ana"), f"{url}/read", {}).json()["read"]["current"]


def test_a_flown_sortie_is_not_ticked_any_more(school, as_):
    sortie = school.brought_to("flown")
    refused = post(as_("ana"), f"/api/sorties/{sortie.pk}/read", {})
    assert refused.status_code == 403
    assert "has been flown" in refused.json()["problems"][0]["what"]


def test_a_question_comes_back_answered(school, as_):
    url = f"/api/sorties/{school.sortie().pk}"
    asked = post(as_("ana"), f"{url}/questions", {"text": "Which foot first?", "figure": "f5"}).json()[
        "questions"
    ][0]
    assert (asked["by"], asked["figure"], asked["answer"]) == ("Ana", "f5", "")
    assert as_("bo").get("/api/today").json()["sorties"][0]["open_questions"] == 1
    answered = post(
        as_("bo"), f"{url}/questions/{asked['id']}", {"text": "The one against the turn."}
    ).json()["questions"][0]
    assert (answered["answer"], answered["answered_by"]) == ("The one against the turn.", "Bo")
    assert post(as_("ana"), f"{url}/questions", {"text": "And this?", "figure": "zz"}).status_code == 422
    assert post(as_("ana"), f"{url}/questions/{asked['id']}", {"text": "me"}).status_code == 403


def test_the_pages_of_the_brief_name_the_height_to_leave_at(school, as_):
    found = as_("ana").get(f"/api/sorties/{school.sortie().pk}").json()
    pages = {p["key"]: p["lines"] for p in found["brief_pages"]}
    assert found["answer"]["leave"]["shown"] in pages["parachute"][-1]
    assert pages["parachute"][0].count("ail out") == 3
    assert "not on its card" in pages["parachute"][1]
    assert len(pages["before_first"]) == 6
    assert len(pages["between"]) < len(pages["before_first"])


def test_the_book_computes_a_figure_in_a_chosen_aircraft_on_a_chosen_day(school, as_):
    def book(key, **query):
        return as_("ana").get(
            f"/api/figures/{key}/book",
            {"aircraft_id": school.aircraft.pk, "place_id": school.place.pk, **query},
        )

    cold, hot = (book("spin", temperature_c=t).json() for t in (-5, 35))
    assert hot["answer"]["likely"]["value"] > cold["answer"]["likely"]["value"]
    assert cold["approved"]
    assert cold["look"]["schools"]
    loop = book("loop").json()["answer"]
    assert loop["highest_point"]["value"] <= 6400  # begun low enough for its rise
    banned = book("spin", aircraft_id=school.no_spins.pk).json()
    assert (banned["approved"], banned["answer"]) == (False, None)
    assert "not among the approved" in banned["refused"]
    assert book("nonsense").status_code == 422
    assert book("loop", temperature_c=200).status_code == 422


def test_the_chiefs_standard_goes_into_plans_and_its_history_stays(school, as_):
    def keep(version, standard):
        return put(as_("chief"), "/api/figures/spin/standard", {"version": version, "standard": standard})

    sortie = school.sortie()
    assert keep(1, {"floor_ft": {"value": 3600}, "words": "Count aloud."}).json()["version"] == 2
    spin = next(
        f
        for f in as_("bo").get(f"/api/sorties/{sortie.pk}").json()["answer"]["figures"]
        if f["key"] == "spin"
    )
    assert (spin["floor"]["value"], spin["school_words"]) == (3610, "Count aloud.")
    assert "changed meanwhile" in keep(1, {}).json()["problems"][0]["what"]
    assert "not a recovery taught" in keep(2, {"school": "push_and_roll"}).json()["problems"][0]["what"]
    assert keep(2, {}).json()["standards"]["figures"] == {}
    book = (
        as_("ana")
        .get("/api/figures/spin/book", {"aircraft_id": school.aircraft.pk, "place_id": school.place.pk})
        .json()
    )
    assert [c["by"] for c in book["changes"]] == ["Chief", "Chief"]
    assert (book["changes"][0]["before"]["words"], book["changes"][0]["after"]) == ("Count aloud.", None)
    assert Change.objects.filter(subject="figure spin").count() == 2


def test_the_chief_adds_aircraft_and_places_and_doubles_are_refused(school, as_):
    chief, card = as_("chief"), deepcopy(school.aircraft.card)
    made = post(chief, "/api/aircraft", {"registration": " qx-new ", "card": card})
    assert (made.status_code, made.json()["registration"]) == (201, "QX-NEW")
    assert (
        "already in the fleet"
        in post(chief, "/api/aircraft", {"registration": "QX-NEW", "card": card}).json()["problems"][0][
            "what"
        ]
    )
    card["approved"]["barrel_rol"] = None
    unknown = post(chief, "/api/aircraft", {"registration": "QX-TWO", "card": card}).json()["problems"][0]
    assert (unknown["where"], "no such figure" in unknown["what"]) == ("card.approved.barrel_rol", True)
    place = {"name": "Test block", "elevation_ft": 0, "block_top_ft": 5000}
    assert "already" in post(chief, "/api/places", {"place": place}).json()["problems"][0]["what"]
    assert (Aircraft.objects.count(), Place.objects.count()) == (3, 1)


def test_a_changed_card_keeps_what_it_was(school, as_):
    card = deepcopy(school.aircraft.card)
    card["limits"]["most_g"]["value"] = 5.5
    put(
        as_("chief"),
        f"/api/aircraft/{school.aircraft.pk}",
        {"version": 1, "registration": "QX-TST", "card": card},
    )
    kept = as_("bo").get("/api/changes", {"subject": f"aircraft {school.aircraft.pk}"}).json()
    assert [
        (c["before"]["card"]["limits"]["most_g"]["value"], c["after"]["card"]["limits"]["most_g"]["value"])
        for c in kept
    ] == [(6, 5.5)]


@pytest.mark.parametrize(
    ("path", "value", "words"),
    [
        ("speeds.stall_ias", 140, "must be below"),
        ("speeds.glide_ias", 180, "must be below Vne"),
        ("limits.most_g", 0.8, "not above 1"),
        ("limits.rolling_g", 7, "not above the limit"),
        ("balance.aerobatic_forward_in", 60, "not ahead of"),
        ("balance.empty_arm_in", 400, "far from every seat"),
        ("balance.aerobatic_most_lb", 900, "must rise"),
        ("spin", None, "spin section is missing"),
        ("spin.path_down_deg", 5, "outside 20 to 90"),
        ("approved.loop", 300, "not between"),
    ],
)
def test_every_contradiction_of_a_card_is_said_at_its_number(school, as_, path, value, words):
    card = deepcopy(school.aircraft.card)
    inside, *rest = path.split(".")
    if not rest:
        card[inside] = value
    else:
        card[inside][rest[0]] = {"value": value, "source": "flight manual", "ref": ""}
    refused = put(
        as_("chief"),
        f"/api/aircraft/{school.aircraft.pk}",
        {"version": 1, "registration": "QX-TST", "card": card},
    )
    assert refused.status_code == 422
    problems = {p["where"]: p for p in refused.json()["problems"]}
    named = next(p for place, p in problems.items() if place.endswith(path))
    assert words in named["what"]
    assert named["do"]
    assert Aircraft.objects.get(pk=school.aircraft.pk).version == 1


def test_standards_are_kept_with_who_changed_them(school, as_):
    standards = SchoolStandards.in_force().standards
    standards["daylight_min"]["value"] = 45
    put(as_("chief"), "/api/standards", {"version": 1, "standards": standards})
    assert as_("bo").get("/api/changes", {"subject": "standards"}).json()[0]["by"] == "Chief"


@pytest.mark.parametrize(
    ("changes", "where", "words"),
    [
        (
            {"speeds": {"climb_fpm": {"value": 20}, "level_ias": {"value": 160}}},
            "card.speeds.climb_fpm",
            "thrust",
        ),
        ({"speeds": {"reference_lb": {"value": 1e6}}}, "card.speeds.reference_lb", "outside 0 to 60000"),
        ({"spin": {"left_factor": {"value": 40}}}, "card.spin.left_factor", "outside 0.2 to 5"),
        ({"approved": {"spin": None, "moonwalk": None}}, "card.approved.moonwalk", "no such figure"),
    ],
)
def test_a_card_that_the_model_cannot_be_fitted_to_is_refused_at_its_number(
    school, as_, changes, where, words
):
    card = changed(school.aircraft.card, **changes)
    body = {"version": 1, "registration": "QX-TST", "card": card, "parachutes_packed_on": None}
    answer = put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", body)
    assert answer.status_code == 422
    problem = answer.json()["problems"][0]
    assert problem["where"] == where
    assert words in problem["what"]
    assert problem["do"]
    school.aircraft.refresh_from_db()
    assert school.aircraft.version == 1


def test_a_card_kept_before_its_numbers_had_a_reach_is_still_shown(school, as_):
    school.aircraft.card = changed(school.aircraft.card, limits={"inverted_s": {"value": 900}})
    school.aircraft.save()
    found = as_("bo").get("/api/aircraft")
    assert found.status_code == 200
    shown = next(a for a in found.json() if a["id"] == school.aircraft.pk)
    assert shown["card"]["limits"]["inverted_s"]["value"] == 900


def test_spins_approved_without_their_section_are_refused_where_the_card_is_edited(school, as_):
    card = {**school.aircraft.card, "spin": None}
    body = {"version": 1, "registration": "QX-TST", "card": card, "parachutes_packed_on": None}
    problems = put(as_("chief"), f"/api/aircraft/{school.aircraft.pk}", body).json()["problems"]
    assert [p["where"] for p in problems] == ["card.spin"]


def test_what_blank_numbers_cost_is_told_until_they_are_stated(school, as_):
    stated, door = school.aircraft.card, f"/api/aircraft/{school.aircraft.pk}/blanks"
    assert as_("ana").get(door).json() == {"costs": []}
    school.aircraft.card = left_blank(stated, "spin.turn_s", "spin.further_turn_ft")
    school.aircraft.save()
    first, second = as_("ana").get(door).json()["costs"]
    assert {first["number"]["path"], second["number"]["path"]} == {"spin.turn_s", "spin.further_turn_ft"}
    feet = [int(one["adds"].removesuffix(" ft") or 0) for one in (first, second)]
    assert feet[0] >= feet[1] and feet[0] > 0
    assert "spin" in first["figure"].lower()
    school.aircraft.card = left_blank(stated, "spin.turn_s")
    school.aircraft.save()
    (left,) = as_("ana").get(door).json()["costs"]
    assert left["number"]["path"] == "spin.turn_s"
