"""A METAR read into a day, and what is said about one that is old, from elsewhere or half readable; wind
between heights; sunset."""

from datetime import UTC, datetime, timedelta, timezone

import pytest

from keelturn.weather.aloft import wind_at
from keelturn.weather.report import doubts, read_report
from keelturn.weather.sun import sunset

NOW = datetime(2026, 11, 25, 14, 20, tzinfo=UTC)
GOOD = "METAR XSKA 251350Z 24014G22KT 9999 SCT035 BKN076 11/07 Q1009 NOSIG="


def test_every_group_is_read_with_its_unit():
    read = read_report(GOOD, 18, NOW)
    assert (read.station, read.observed) == ("XSKA", datetime(2026, 11, 25, 13, 50, tzinfo=UTC))
    assert (read.wind_from_deg, read.wind_kt, read.gust_kt) == (240, 14, 22)
    assert (read.temperature_c, read.qnh_hpa, read.left_out) == (11, 1009, "")
    # 9999 is 10 km or more (WMO No. 306, FM 15): 6.2 statute miles. Broken at 7,600 ft above a station at 18
    # ft; scattered is no base.
    assert read.visibility_sm == pytest.approx(6.2)
    assert read.cloud_base_ft == 7600


@pytest.mark.parametrize(
    ("text", "qnh", "visibility", "base"),
    [
        ("XSKA 251350Z 18005KT CAVOK 03/M01 Q1031", 1031, 6.2, None),
        # 29.92 inHg is 1013.25 hPa (ICAO Doc 7488).
        ("KAAA 251350Z 24010KT 10SM OVC012 11/07 A2992", 1013.2, 10, 1200),
        ("METAR XSKA 251350Z 24010KT 3000 -RA VV004 11/07 Q0998", 998, 1.9, 400),
    ],
)
def test_reports_of_both_manners_of_writing(text, qnh, visibility, base):
    read = read_report(text, 0, NOW)
    assert (read.qnh_hpa, read.cloud_base_ft) == (pytest.approx(qnh, abs=0.06), base)
    assert read.visibility_sm == pytest.approx(visibility, abs=0.05)
    assert read.no_ceiling is (base is None)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "there is no report"),
        ("hello", "no station and time"),
        ("TAF XSKA 251100Z 2512/2612 24010KT", "this is a TAF"),
        ("METAR XSKA 251350Z GARBAGE", "nothing of"),
        ("Robert'); DROP TABLE", "no station and time"),
    ],
)
def test_what_cannot_be_read_says_so_and_what_to_paste(text, words):
    with pytest.raises(ValueError, match=words) as refusal:
        read_report(text, 0, NOW)
    assert ": " in str(refusal.value)


def test_a_report_that_is_old_from_elsewhere_or_half_readable_says_so():
    read = read_report("METAR XSKA 251050Z VRB03KT 9999 1X/07 Q1009", 0, NOW)
    said = doubts(read, "XBRA", NOW, 90)
    assert [
        words
        for words in (
            "210 minutes old",
            "from XSKA, not from XBRA",
            "1X/07",
            "no one direction",
            "does not give temperature",
        )
        if not any(words in line for line in said)
    ] == ["210 minutes old"]
    assert said[0].startswith("4 hours old")
    assert doubts(read_report(GOOD, 0, NOW), "XSKA", NOW, 90) == ()
    assert "ahead of now" in doubts(read_report(GOOD, 0, NOW), None, NOW - timedelta(hours=2), 90)[0]


def test_a_day_ahead_of_this_months_is_last_months():
    assert read_report("XSKA 301350Z 24014KT CAVOK 11/07 Q1009", 0, NOW).observed == datetime(
        2026, 10, 30, 13, 50, tzinfo=UTC
    )


def test_the_time_of_asking_may_be_in_any_zone():
    eastern = NOW.astimezone(timezone(timedelta(hours=11)))
    assert read_report(GOOD, 0, eastern).observed == datetime(2026, 11, 25, 13, 50, tzinfo=UTC)


def test_wind_between_heights_goes_by_its_east_and_north_parts():
    """From 350 at 10 kt and from 010 at 10 kt: half way it is from 000 at 10 x cos 10 degrees."""
    from_deg, kt = wind_at(2000, [(1000, 350, 10), (3000, 10, 10)])
    assert from_deg % 360 == pytest.approx(0, abs=1e-9) or from_deg == pytest.approx(360)
    assert kt == pytest.approx(9.848, abs=1e-3)
    assert wind_at(500, [(3000, 10, 30), (1000, 350, 10)]) == (pytest.approx(350), pytest.approx(10))
    assert wind_at(9000, [(1000, 350, 10), (3000, 10, 30)]) == (pytest.approx(10), pytest.approx(30))


def test_sunset_at_the_equinox_is_near_six_in_the_evening_by_the_sun():
    """On the equator at the meridian the sun sets a little after 18:00 UTC less the equation of time (about
    -7 min on 20 March)."""
    at = sunset(0.0, 0.0, datetime(2026, 3, 20, 12, tzinfo=UTC))
    assert at is not None
    assert abs((at - datetime(2026, 3, 20, 18, 10, 30, tzinfo=UTC)).total_seconds()) < 180


def test_where_the_sun_does_not_set_there_is_no_sunset():
    assert sunset(78.0, 15.0, datetime(2026, 6, 21, 12, tzinfo=UTC)) is None
