"""From a student and a day to a sortie: proposals, copies, clashes, weather, fitting, and what leaves as a
file."""

import json
from datetime import datetime, timedelta

import pypdfium2
import pytest
from icalendar import Calendar

from keelturn.cli import main as command_line
from keelturn.plan.document import PlanDocument
from server import clock
from server.school.handouts.letters import marked_up
from server.school.models import Place, Sortie, WeatherRead
from server.school.operations.saving import Sheets, save_sortie
from server.weather import NoReport, StandInWeather
from tests.server.conftest import post

AT = (clock.now() + timedelta(days=3)).replace(hour=10, minute=0, second=0, microsecond=0).isoformat()


def three(school, **more):
    return {
        "student_id": school.student("ana").pk,
        "aircraft_id": school.aircraft.pk,
        "planned_for": AT,
        **more,
    }


def draft_of(school, sortie, **changed):
    return {
        "plan": {**sortie.plan, **changed},
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
    }


def test_three_choices_are_answered_with_a_plan_that_fits_and_why(school, as_):
    school.enrolled("ana")
    found = post(as_("bo"), "/api/sorties/proposal", three(school)).json()
    assert found["lesson"] == "stalls"
    assert found["fits"]
    assert found["place"] == "Test block"
    assert any("not yet as the course needs it" in line for line in found["why"])
    made = post(
        as_("bo"),
        "/api/sorties",
        {**three(school), "place_id": found["place_id"], "lesson": found["lesson"], "plan": found["plan"]},
    )
    assert made.status_code == 201
    assert made.json()["answer"]["stops"] == 0
    assert [f["start_ft"] for f in made.json()["plan"]["figures"]] == [
        f["start_ft"] for f in found["plan"]["figures"]
    ]


def test_a_flight_that_is_soon_is_proposed_for_the_weather_as_reported(school, as_):
    document = {**school.place.place, "station": "XSKA", "station_elevation_ft": 10}
    Place.objects.filter(pk=school.place.pk).update(place=document)

    def day_for(at):
        asked = three(school, lesson="spins_both_ways", planned_for=at.isoformat())
        return post(as_("bo"), "/api/sorties/proposal", asked).json()["plan"]["day"]

    now = clock.now()
    soon = day_for(now + timedelta(hours=1))
    assert soon["report"].startswith("METAR XSKA") and soon["sources"]
    day_for(now + timedelta(hours=1))
    assert WeatherRead.objects.count() == 1
    assert day_for(now + timedelta(hours=4))["report"] == ""
    assert day_for(now - timedelta(hours=1))["report"] == ""


def test_a_place_too_shallow_is_passed_over_for_one_that_takes_it(school, as_):
    Place.objects.all().delete()
    Place.objects.create(name="Shallow", place={"name": "Shallow", "elevation_ft": 0, "block_top_ft": 4000})
    found = post(as_("bo"), "/api/sorties/proposal", three(school, lesson="spins_both_ways")).json()
    # Offered with its way out taken: what is planned begins without a stop that could have been avoided.
    assert found["fits"]
    assert found["way_out"].startswith("incipient spin instead of spin")
    assert f"The smallest way out is taken: {found['way_out']}." in found["why"][-1]
    Place.objects.create(name="Deep", place={"name": "Deep", "elevation_ft": 0, "block_top_ft": 7000})
    found = post(as_("bo"), "/api/sorties/proposal", three(school, lesson="spins_both_ways")).json()
    assert (found["fits"], found["place"], found["way_out"]) == (True, "Deep", "")
    assert "does not fit Shallow" in found["why"][-1]


def test_a_free_sortie_begins_empty_and_an_unknown_lesson_is_refused(school, as_):
    assert (
        post(as_("bo"), "/api/sorties/proposal", three(school, lesson="free")).json()["plan"]["figures"] == []
    )
    refused = post(as_("bo"), "/api/sorties/proposal", three(school, lesson="nonsense"))
    assert refused.status_code == 422
    assert "no lesson 'nonsense'" in refused.json()["problems"][0]["what"]


def test_an_earlier_sortie_is_copied_with_its_settings_but_not_its_day_or_overrides(school, as_):
    earlier = school.brought_to("debriefed")
    plan = PlanDocument.model_validate(earlier.plan)
    Sortie.objects.filter(pk=earlier.pk).update(
        plan={
            **earlier.plan,
            "day": {**earlier.plan["day"], "qnh_hpa": 990},
            "feeling": 3,
            "overrides": [{"check": "visibility", "reason": "for this one day", "by": "Bo"}],
        }
    )
    made = post(
        as_("bo"), "/api/sorties", {**three(school), "place_id": school.place.pk, "copy_of": earlier.pk}
    ).json()
    assert [f["key"] for f in made["plan"]["figures"]] == [f.key for f in plan.figures]
    assert (made["plan"]["overrides"], made["plan"]["feeling"]) == ([], None)
    assert made["plan"]["day"]["qnh_hpa"] is None


def test_what_is_booked_twice_is_seen_before_and_after(school, as_):
    at = clock.now().replace(microsecond=0) + timedelta(days=2)
    school.sortie("ana", "bo", at)
    asked = three(
        school,
        student_id=school.student("dee").pk,
        planned_for=(at + timedelta(minutes=60)).isoformat(),
        lesson="free",
    )
    assert post(as_("bo"), "/api/sorties/proposal", asked).json()["clashes"] == [
        f"QX-TST and Bo already booked at {at:%H:%M}"
    ]
    second = school.sortie("dee", "cy", at + timedelta(minutes=60))
    assert as_("cy").get(f"/api/sorties/{second.pk}").json()["clashes"] == [
        f"QX-TST already booked at {at:%H:%M}"
    ]
    assert [s["clashes"] for s in as_("bo").get("/api/today").json()["sorties"] if s["mine"]] == [
        [f"QX-TST already booked at {second.planned_for:%H:%M}"]
    ]
    assert as_("ana").get("/api/today").json()["sorties"][0]["clashes"] == []
    later = {**asked, "planned_for": (at + timedelta(hours=5)).isoformat()}
    assert post(as_("chief"), "/api/sorties/proposal", later).json()["clashes"] == []


def test_fitting_gives_the_plan_its_heights_and_says_what_differs(school, as_):
    sortie = school.sortie()
    low = [{**f, "start_ft": 3200} for f in sortie.plan["figures"]]
    found = post(as_("bo"), f"/api/sorties/{sortie.pk}/fit", draft_of(school, sortie, figures=low)).json()
    assert found["fits"]
    assert {d["kind"] for d in found["differences"]} == {"start"}
    assert found["answer"]["stops"] == 0
    assert Sortie.objects.get(pk=sortie.pk).plan == sortie.plan  # nothing is stored
    none = draft_of(school, sortie, figures=[{**sortie.plan["figures"][0], "key": "spin"}])
    refused = post(
        as_("bo"),
        f"/api/sorties/{sortie.pk}/fit",
        {
            **none,
            "aircraft_id": school.no_spins.pk,
            "plan": {**none["plan"], "load": {"front_lb": 150, "rear_lb": 150}},
        },
    )
    assert refused.status_code == 422
    assert "no spin figures" in refused.json()["problems"][0]["what"]


def test_the_answer_of_a_draft_is_the_schema_that_was_promised(school, as_):
    sortie = school.sortie()
    body = draft_of(school, sortie)
    found = post(as_("bo"), f"/api/sorties/{sortie.pk}/preview", body).json()
    whole = as_("bo").get(f"/api/sorties/{sortie.pk}").json()["answer"]
    assert found == whole
    look = post(as_("bo"), f"/api/sorties/{sortie.pk}/closer", {**body, "figure": "f5"}).json()
    assert (look["id"], look["side"]["moments"][0]["words"]) == ("f5", "Gate")
    assert post(as_("bo"), f"/api/sorties/{sortie.pk}/closer", {**body, "figure": "zz"}).status_code == 422


def weather(school, sortie, client, report, **day):
    return post(
        client,
        f"/api/sorties/{sortie.pk}/weather",
        {"day": day, "place_id": school.place.pk, "report": report},
    )


def test_a_pasted_report_goes_into_the_day_with_its_source_and_its_doubts(school, as_):
    sortie, now = school.sortie(), clock.now()
    report = f"METAR XTST {now:%d%H%M}Z 24014KT 8000 BKN052 11/07 Q1004"
    found = weather(school, sortie, as_("bo"), report, wind_kt=3, temperature_c=20).json()
    assert (found["day"]["qnh_hpa"], found["day"]["wind_kt"], found["day"]["cloud_base_ft"]) == (
        1004,
        14,
        5200,
    )
    assert found["day"]["sources"]["qnh_hpa"].startswith("METAR XTST")
    assert found["doubts"] == []
    assert "cloud base" in found["taken"]
    school.place.place = {**school.place.place, "station": "XELS"}
    school.place.save()
    assert "from XTST, not from XELS" in weather(school, sortie, as_("bo"), report).json()["doubts"][0]


@pytest.mark.parametrize(
    ("report", "what", "do"),
    [
        ("not a report", "no station and time", "Paste the whole line"),
        ("TAF XTST 011100Z", "this is a TAF", "Paste the report"),
        ("", "there is no report", "Paste one"),
    ],
)
def test_a_report_that_cannot_be_read_says_what_where_and_what_to_do(school, as_, report, what, do):
    refused = weather(school, school.sortie(), as_("bo"), report)
    assert refused.status_code == 422
    problem = refused.json()["problems"][0]
    assert problem["where"] == "report"
    assert what in problem["what"]
    assert problem["do"].startswith(do)


def test_fetching_asks_the_service_of_the_settings(school, as_, settings):
    sortie = school.sortie()
    assert "no weather station" in weather(school, sortie, as_("bo"), None).json()["problems"][0]["what"]
    school.place.place = {**school.place.place, "station": "XSKA", "station_elevation_ft": 18}
    school.place.save()
    found = weather(school, sortie, as_("bo"), None).json()
    assert [w["height_ft"] for w in found["day"]["winds"]] == [2000, 4000, 6000]
    assert found["day"]["sources"]["winds"].endswith("stand-in weather service")
    settings.WEATHER_SERVICE = "tests.server.test_planning.Silent"
    assert "does not answer" in weather(school, sortie, as_("bo"), None).json()["problems"][0]["what"]


class Silent:
    def fetch(self, station: str, now: datetime) -> None:
        raise ConnectionError


def test_the_stand_in_is_the_same_for_everybody_in_one_hour_and_its_reports_are_fresh():
    now = clock.now()
    first, again = StandInWeather().fetch("XSKA", now), StandInWeather().fetch("XSKA", now)
    assert first == again
    with pytest.raises(NoReport, match="XSKA"):
        StandInWeather().fetch("XXXX", now)


def test_the_card_is_one_or_two_small_pages_in_black_and_white_with_every_height(school, as_):
    sortie = school.sortie()
    for paper, size in (("a5", (420, 595)), ("half-letter", (396, 612))):
        response = as_("bo").get(f"/api/sorties/{sortie.pk}/card.pdf?paper={paper}")
        assert response["Content-Type"] == "application/pdf"
        with pypdfium2.PdfDocument(response.content) as document:
            assert 1 <= len(document) <= 2
            assert tuple(map(round, document[0].get_size())) == size
            text = "".join(page.get_textpage().get_text_range() for page in document)
            picture = document[0].render(scale=1).to_numpy()
        assert (picture[..., 0] == picture[..., 1]).all()  # no colour
        for figure in as_("bo").get(f"/api/sorties/{sortie.pk}").json()["answer"]["figures"]:
            assert figure["title"].split(",")[0] in text
            assert figure["start"]["shown"].replace(" ft", "") in text
        assert "flight manual" in text
    assert as_("bo").get(f"/api/sorties/{sortie.pk}/card.pdf?paper=a4").status_code == 422


def test_the_plan_leaves_as_what_the_command_line_reads_and_comes_back(school, as_, tmp_path, capsys):
    sortie = school.sortie()
    content = as_("bo").get(f"/api/sorties/{sortie.pk}/plan.json").content
    (tmp_path / "plan.json").write_bytes(content)
    assert command_line(["plan", str(tmp_path / "plan.json")]) == 0
    assert len(json.loads(capsys.readouterr().out)["plan"]["figures"]) == 7
    back = post(as_("bo"), f"/api/sorties/{sortie.pk}/plan-from-file", {"document": json.loads(content)})
    assert back.json() == sortie.plan


def test_a_file_brings_no_overrides_and_no_report(school, as_):
    """They are of one flight: an instructor's own, and what this program read."""
    sortie = school.sortie()
    whole = json.loads(as_("bo").get(f"/api/sorties/{sortie.pk}/plan.json").content)
    stop = {"id": "o", "check": "floor_1", "reason": "The chief agreed", "by": "Chief"}
    day = {**sortie.plan["day"], "wind_kt": 12, "report": "METAR", "sources": {"wind_from_deg": "METAR"}}
    brought = {**sortie.plan, "overrides": [stop], "day": day}
    for document in (brought, {**whole, "plan": brought}):
        answer = post(as_("bo"), f"/api/sorties/{sortie.pk}/plan-from-file", {"document": document})
        got = answer.json()
        assert answer.status_code == 200, got
        assert got["overrides"] == []
        assert (got["day"]["report"], got["day"]["sources"], got["day"]["observed"]) == ("", {}, None)
        assert got["day"]["wind_kt"] == 12


@pytest.mark.parametrize(
    ("document", "where", "what"),
    [
        ([1], "document", "does not begin with"),
        ({}, "load", "is missing"),
        ({"load": {"front_lb": 150, "rear_lb": 150}, "figures": [], "colour": 1}, "colour", "not known"),
        (
            {
                "load": {"front_lb": 150, "rear_lb": 150},
                "figures": [{"id": "a", "key": "spin", "start_ft": "high"}],
            },
            "figures[0].start_ft",
            "number",
        ),
    ],
)
def test_a_wrong_file_says_what_is_wrong_where(school, as_, document, where, what):
    refused = post(as_("bo"), f"/api/sorties/{school.sortie().pk}/plan-from-file", {"document": document})
    assert refused.status_code == 422
    problem = refused.json()["problems"][0]
    assert where in problem["where"]
    assert what in problem["what"]


def test_the_booking_is_an_event_with_time_place_and_people(school, as_):
    sortie = school.sortie()
    event = Calendar.from_ical(as_("bo").get(f"/api/sorties/{sortie.pk}/booking.ics").content).walk("VEVENT")[
        0
    ]
    assert event["dtstart"].dt == sortie.planned_for.replace(microsecond=0)
    assert event["dtend"].dt - event["dtstart"].dt == timedelta(minutes=90)
    assert "Ana with Bo" in event["summary"]
    assert event["location"] == "Test block"


def test_asking_how_the_student_feels_does_not_undo_the_brief(school):
    sortie = school.brought_to("briefed")
    plan = PlanDocument.model_validate({**sortie.plan, "feeling": 8})
    assert save_sortie(school.people["bo"], sortie.pk, sortie.version, Sheets(plan=plan)).stage == "briefed"
    moved = plan.model_copy(update={"own_floor_ft": 3500.0})
    assert (
        save_sortie(school.people["bo"], sortie.pk, sortie.version + 1, Sheets(plan=moved)).stage == "planned"
    )


def test_what_stops_the_aircraft_anywhere_is_said_and_is_not_the_places_fault(school, as_):
    school.aircraft.parachutes_packed_on = clock.now().date() - timedelta(days=300)
    school.aircraft.save()
    found = post(as_("bo"), "/api/sorties/proposal", three(school, lesson="spins_both_ways")).json()
    assert not found["fits"]
    assert found["why"][-1].startswith("Parachutes: Oldest was packed")
    assert "Test block: every figure keeps its floor" in found["why"][-2]


@pytest.mark.parametrize(
    "name", ["Łucja Øst", "Ирина Волк", "Ελένη", "山田 太郎", "김민준", "שרה", "محمد علي", "Ana <b>&</b> Co"]
)
def test_names_of_every_script_are_on_the_card(school, as_, name):
    import pypdfium2

    school.people["ana"].name = name
    school.people["ana"].save()
    content = as_("bo").get(f"/api/sorties/{school.sortie().pk}/card.pdf").content
    pdf = pypdfium2.PdfDocument(content)
    words = "".join(page.get_textpage().get_text_range() for page in pdf)
    assert all(part in words or part[::-1] in words for part in name.split())


def test_control_characters_reach_no_file(school, as_):
    """Stored before they were refused."""
    import pypdfium2

    school.people["ana"].name = "A\x00n\x07a"
    school.people["ana"].save()
    client, sortie = as_("bo"), school.sortie()
    content = client.get(f"/api/sorties/{sortie.pk}/card.pdf").content
    words = pypdfium2.PdfDocument(content)[0].get_textpage().get_text_range()
    assert words.startswith("Ana")
    calendar = client.get(f"/api/sorties/{sortie.pk}/booking.ics").content
    assert not set(calendar) & set(b"\x00\x07")


def test_what_is_written_from_the_right_stands_as_it_is_read():
    """Arabic letters in their shapes for beginning, middle and end (Unicode, Arabic Presentation Forms-B),
    the first on the right; numbers and our own letters in their places."""
    shaped = "".join(chr(code) for code in (0xFEF2, 0xFEE0, 0xFECB))
    assert marked_up("علي") == f'<font name="DejaVu">{shaped}</font>'
    assert marked_up("גובה") == '<font name="DejaVu">הבוג</font>'
    assert marked_up("Ana גובה שרה, 1,000 ft") == (
        'Ana <font name="DejaVu">הרש</font> <font name="DejaVu">הבוג</font>, 1,000 ft'
    )


@pytest.mark.parametrize(("days", "stops"), [(0, 4), (1, 0)])
def test_weather_that_nobody_gave_stops_the_flight_of_today_and_not_of_tomorrow(school, as_, days, stops):
    at = clock.morning_of(clock.now()) + timedelta(days=days, hours=12)
    sortie = school.sortie(at=at)
    sortie.plan = {**sortie.plan, "day": {}}
    sortie.save(update_fields=["plan"])
    answer = as_("bo").get(f"/api/sorties/{sortie.pk}").json()["answer"]
    kinds = {c["kind"]: c["verdict"] for c in answer["checks"]}
    verdict = "stop" if stops else "mind"
    assert [kinds[kind] for kind in ("air", "visibility", "cloud", "wind")] == [verdict] * 4
    assert answer["stops"] == stops


def test_a_variable_wind_has_no_direction_and_keeps_none_of_an_earlier_report(school, as_):
    sortie = school.sortie()
    report = "METAR XTST 140750Z VRB04KT 9999 SCT040 11/06 Q1009"
    body = {"day": {"wind_from_deg": 240, "wind_kt": 14}, "place_id": school.place.pk, "report": report}
    found = post(as_("bo"), f"/api/sorties/{sortie.pk}/weather", body).json()["day"]
    assert (found["wind_from_deg"], found["wind_kt"]) == (None, 4)
    assert found["sources"]["wind_from_deg"].startswith("METAR XTST")
