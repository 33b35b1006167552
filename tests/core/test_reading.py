"""A recorder's file read: what can be read is, and what cannot is said with its line and reason."""

import math
from datetime import UTC, datetime

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keelturn.document import Wrong
from keelturn.recording import reading
from keelturn.recording.mapping import ColumnFrom, ColumnMap
from keelturn.recording.problems import Problems, Unread
from keelturn.recording.reading import Form, judgements_missing, on_its_own, read_recording
from keelturn.recording.table import Column

HEADER = "time_s,pressure_height_ft,ias_kt,g"


def table(rows=60, header=HEADER, row="{at},{height},90.5,1.02", ends="\n", changed=None):
    """Rows of half a second, climbing a foot each; changed: other text for some of them."""
    changed = changed or {}
    lines = [changed.get(n, row.format(at=n * 0.5, height=5000 + n)) for n in range(rows)]
    return ends.join([header, *lines, ""]).encode()


def of(content, columns=None):
    read = read_recording(content, columns)
    assert len(read.flights) == 1
    return read, read.flights[0]


def told(read, kind):
    return [(one.line, one.header) for one in read.problems if one.kind == kind]


def test_our_own_table_is_read_as_it_stands():
    read, flight = of(table())
    assert (read.form, read.rows, read.problems, flight.zero) == (Form.TABLE, 60, (), None)
    assert flight.columns[Column.PRESSURE_HEIGHT][:3].tolist() == [5000, 5001, 5002]
    assert all(one.sure for one in read.columns.columns)
    assert flight.rate_hz == 2.0


@pytest.mark.parametrize("ends", ["\r\n", "\r"])
def test_line_ends_of_other_machines_and_a_mixture_of_them(ends):
    assert of(table(ends=ends))[0].rows == 60
    mixed = table().replace(b"\n", b"\r\n", 7).replace(b"\r\n", b"\r", 2)
    assert of(mixed)[0].rows == 60


@pytest.mark.parametrize("code", ["utf-8-sig", "utf-16", "latin-1"])
def test_other_encodings_are_read_too(code):
    text = table(header="time_s,pressure_height_ft,ias_kt,Kommentar für g").decode()
    assert of(text.encode(code))[0].rows == 60


def test_a_decimal_comma_and_semicolons_are_found_by_themselves():
    rows = table(header="Time;Altitude (m);IAS [km/h];Acc Z", row="{at};1500,5;180;9,80665").decode()
    read, flight = of(rows.replace(".", ",").encode())
    assert (read.columns.separator, read.columns.decimal) == (";", ",")
    assert flight.columns[Column.PRESSURE_HEIGHT][0] == pytest.approx(1500.5 / 0.3048)
    assert flight.columns[Column.IAS][0] == pytest.approx(97.19, abs=0.01)
    assert flight.columns[Column.G][0] == pytest.approx(1.0)
    units = {one.column: (one.unit, one.sure) for one in read.columns.columns}
    assert units[Column.PRESSURE_HEIGHT] == ("m", True)
    assert units[Column.G] == ("m/s2", False)


def test_the_wrong_decimal_mark_is_said_for_every_field_and_what_to_do():
    rows = table(header=HEADER.replace(",", ";"), row="{at};{height};90,5;1,02")
    columns = tuple(
        ColumnFrom(header=c, column=c, unit=u)
        for c, u in zip(HEADER.split(","), ("s", "ft", "kt", "g"), strict=True)
    )
    read, flight = of(rows, ColumnMap(separator=";", decimal=".", columns=columns))
    assert read.counts == {Unread.NO_NUMBER: 120}
    assert "decimal mark" in read.problems[0].do
    assert np.isnan(flight.columns[Column.IAS]).all()
    assert of(rows)[1].columns[Column.IAS][0] == 90.5


def test_a_line_of_units_under_the_names_counts():
    content = table(header="time,altitude,ias\ns,m,mph", row="{at},1000,100")
    flight = of(content)[1]
    assert flight.columns[Column.PRESSURE_HEIGHT][0] == pytest.approx(3280.84, abs=0.01)
    assert flight.columns[Column.IAS][0] == pytest.approx(86.9, abs=0.1)


def test_lines_before_the_header_are_passed_over_and_lines_are_counted_with_them():
    content = b"# box 7, software 1.2\nSerial: 12\n\n" + table(changed={4: "2.0,abc,90,1"})
    read, _ = of(content)
    assert told(read, Unread.NO_NUMBER) == [(9, "pressure_height_ft")]
    assert "'abc' is not a number" in read.problems[0].what


def test_fields_that_are_no_measurement_are_left_out_with_their_line():
    changed = {3: "1.5,nan,90,1", 5: "2.5,inf,90,1", 7: "3.5,5007,2000,1", 9: "4.5,5009,,1"}
    read, flight = of(table(changed=changed))
    assert told(read, Unread.NOT_FINITE) == [(5, "pressure_height_ft"), (7, "pressure_height_ft")]
    assert told(read, Unread.BEYOND) == [(9, "ias_kt")]
    assert read.counts == {Unread.NOT_FINITE: 2, Unread.BEYOND: 1}
    assert np.flatnonzero(np.isnan(flight.columns[Column.IAS])).tolist() == [7, 9]


def test_a_truncated_file_is_read_to_where_it_breaks_off():
    whole = table()
    read, flight = of(whole[: whole.rindex(b",")])
    assert told(read, Unread.TOO_FEW) == [(61, "")]
    assert read.rows == 60
    assert math.isnan(flight.columns[Column.G][-1])


def test_too_many_fields_are_said_and_may_be_a_comma_too_many():
    read, _ = of(table(row="{at},{height},90,5,1,02"))
    assert read.counts[Unread.TOO_MANY] == 60
    assert "semicolons" in read.problems[0].do


def test_rows_that_come_twice_are_read_once_and_another_at_the_same_time_is_said():
    changed = {5: "2.0,5004,90.5,1.02", 8: "3.5,9999,90.5,1.02"}
    read, flight = of(table(changed=changed))
    assert told(read, Unread.REPEATED) == [(7, "")]
    assert told(read, Unread.SAME_TIME) == [(10, "")]
    assert (np.diff(flight.time) > 0).all()
    assert 9999 not in flight.columns[Column.PRESSURE_HEIGHT]


def test_a_time_that_goes_back_is_left_out_with_its_line():
    read, flight = of(table(changed={20: "3.25,5020,90.5,1.02"}))
    assert told(read, Unread.BACK) == [(22, "")]
    assert read.rows == 59
    assert (np.diff(flight.time) > 0).all()


def test_two_flights_in_one_file_by_a_clock_that_begins_again_or_a_long_silence():
    again = table() + table().split(b"\n", 1)[1]
    apart = table(80, changed={n: f"{700 + n * 0.5},{3000 + n},90,1" for n in range(40, 80)})
    for content in (again, apart):
        flights = read_recording(content).flights
        assert [len(flight) for flight in flights] in ([60, 60], [40, 40])
        assert flights[1].columns[Column.PRESSURE_HEIGHT][0] in (5000, 3040)
    with pytest.raises(Wrong, match="no flight 3 of 2"):
        on_its_own(flights, 2)
    assert on_its_own(flights, 1) is flights[1]


def test_a_gap_shorter_than_ten_minutes_is_one_flight():
    late = {n: f"{599 + n * 0.5},{3000 + n},90,1" for n in range(40, 80)}
    assert len(read_recording(table(80, changed=late)).flights) == 1
    later = {n: f"{621 + n * 0.5},{3000 + n},90,1" for n in range(40, 80)}
    assert len(read_recording(table(80, changed=later)).flights) == 2


def test_a_clock_of_whole_seconds_with_several_rows_each_is_spread():
    rows = [f"10:00:{n // 4:02d},{5000 + n},90,1" for n in range(2, 80)]
    flight = of("\n".join(["time,height,ias,g", *rows]).encode())[1]
    steps = np.diff(flight.time)
    assert steps == pytest.approx(np.full(len(steps), 0.25))
    assert flight.time[0] == pytest.approx(10 * 3600 + 0.5)
    assert flight.of_day


def test_a_clock_goes_on_past_midnight():
    rows = [f"23:59:{n:02d},5000" for n in range(40, 60)] + [f"00:00:{n:02d},5000" for n in range(20)]
    flight = of("\n".join(["time,height", *rows]).encode())[1]
    assert flight.time[-1] - flight.time[0] == 39


@pytest.mark.parametrize(
    "form", ["2026-05-01T10:00:{:02d}Z", "2026-05-01 12:00:{:02d}+02:00", "2026-05-01 10:00:{:02d}.0"]
)
def test_dates_are_moments_and_without_a_zone_they_are_utc(form):
    rows = "\n".join(["utc,altitude", *(f"{form.format(n)},5000" for n in range(30))])
    flight = of(rows.encode())[1]
    assert flight.zero == datetime(2026, 5, 1, 10, tzinfo=UTC)
    assert flight.time[-1] == 29


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "it is empty"),
        (b"\n\n \n", "it is empty"),
        (b"hello\nthere\n", "it is no table"),
        (b"a,b\nx,y\n", "no row of numbers"),
        (b"lat,lon\n" + b"50.1,7.2\n" * 30, "no column was taken for the time nor for the height"),
        (table(10), "10 s of flight on end"),
        (b"\x00\xff\x01" * 40, "it is no table"),
    ],
)
def test_what_is_no_recording_is_refused_with_a_reason(content, words):
    with pytest.raises(Wrong, match=words):
        read_recording(content)


def test_a_file_too_large_is_refused_and_so_are_too_many_rows(monkeypatch):
    content = table()
    monkeypatch.setattr(reading, "MOST_ROWS", 59)
    with pytest.raises(Wrong, match="60 rows, and 59 are read"):
        read_recording(content)
    monkeypatch.setattr(reading, "MOST_ROWS", 60)
    assert read_recording(content).rows == 60
    track = GPX.format(points="").encode()
    monkeypatch.setattr(reading, "MOST_TRACK_BYTES", len(track) - 1)
    with pytest.raises(Wrong, match="MB of a track"):
        read_recording(track)
    monkeypatch.setattr(reading, "MOST_BYTES", len(content) - 1)
    with pytest.raises(Wrong, match="MB"):
        read_recording(content)


def test_a_column_that_the_file_does_not_have_and_a_unit_that_is_none_are_refused():
    columns = (ColumnFrom(header="zeit", column="time_s", unit="s"),)
    with pytest.raises(Wrong, match="no such column; there are time_s, "):
        read_recording(table(), ColumnMap(columns=columns))
    with pytest.raises(ValueError, match="not read in 'kt'"):
        ColumnFrom(header="h", column="height_ft", unit="kt")
    with pytest.raises(ValueError, match="stands twice"):
        ColumnMap(columns=(columns[0], columns[0].model_copy(update={"header": "t"})))
    with pytest.raises(ValueError, match="separator too"):
        ColumnMap(separator=",", decimal=",", columns=columns)


def test_of_many_problems_the_first_are_named_and_all_are_counted():
    read, _ = of(table(changed={n: f"{n * 0.5},x,90,1" for n in range(5, 45)}))
    assert read.counts[Unread.NO_NUMBER] == 40
    assert len(told(read, Unread.NO_NUMBER)) == Problems().most


IGC = """AXXX001
HFDTE010526
HFGIDGLIDERID:D-TEST
{fixes}
"""


def test_an_igc_file_has_heights_in_metres_and_its_day():
    fixes = [f"B1000{n:02d}5012345N00712345EA{1000 + n:05d}{1010 + n:05d}" for n in range(30)]
    fixes[4] = "B1000045012345N00712345EAxxxxx01014"
    read, flight = of(IGC.format(fixes="\n".join(fixes)).encode())
    assert (read.form, read.aircraft, read.columns) == (Form.IGC, "D-TEST", None)
    assert flight.zero == datetime(2026, 5, 1, tzinfo=UTC)
    assert flight.columns[Column.PRESSURE_HEIGHT][0] == pytest.approx(3280.84, abs=0.01)
    assert flight.columns[Column.LATITUDE][0] == pytest.approx(50.2057, abs=1e-3)
    assert told(read, Unread.NOT_OF_THIS_FORM) == [(8, "B")]
    assert len(flight) == 29
    missing = judgements_missing(flight)
    assert "Pull, onset, g while rolling: no g" in missing
    assert "Heading kept, turns of a spin: no heading" in missing


GPX = """<?xml version="1.0"?>
<gpx version="1.1" creator="x" xmlns="http://www.topografix.com/GPX/1/1"><trk><trkseg>{points}</trkseg></trk></gpx>"""


def test_a_gpx_track_has_heights_in_metres_and_points_without_time_are_said():
    points = [
        f'<trkpt lat="50.1" lon="7.2"><ele>1000</ele><time>2026-05-01T10:00:{n:02d}Z</time></trkpt>'
        for n in range(30)
    ]
    points[3] = '<trkpt lat="50.1" lon="7.2"><ele>1000</ele></trkpt>'
    read, flight = of(GPX.format(points="".join(points)).encode())
    assert read.form == Form.GPX
    assert flight.zero == datetime(2026, 5, 1, 10, tzinfo=UTC)
    assert flight.columns[Column.HEIGHT][0] == pytest.approx(3280.84, abs=0.01)
    assert told(read, Unread.NOT_OF_THIS_FORM) == [(4, "point")]
    with pytest.raises(Wrong, match="no complete GPX"):
        read_recording(GPX.format(points=points[0]).encode()[:-30])
    with pytest.raises(Wrong, match="declares entities"):
        read_recording(GPX.format(points="").replace("<gpx", "<!DOCTYPE a []>\n<gpx").encode())


def test_names_that_stand_twice_or_are_too_long_are_told_apart_and_cut():
    read, flight = of(table(header=f"time,alt,alt,g ({'x' * 400})", row="{at},5000,9000,1"))
    assert flight.columns[Column.PRESSURE_HEIGHT][0] == 5000
    columns = (
        ColumnFrom(header="time", column="time_s", unit="s"),
        ColumnFrom(header="alt (3)", column="pressure_height_ft", unit="ft"),
    )
    assert (
        of(table(header="time,alt,alt", row="{at},5000,9000"), ColumnMap(columns=columns))[1].columns[
            Column.PRESSURE_HEIGHT
        ][0]
        == 9000
    )
    assert max(len(c.header) for c in read.columns.columns) <= 120


BITS = (
    b",",
    b";",
    b"\t",
    b"\n",
    b"\r",
    b'"',
    b"\x00",
    b"\xff",
    b"nan",
    b"1e400",
    b"-",
    b"abc",
    b"#",
    b"<",
    b":",
    b"B",
    b"H",
)
WHOLE = (
    table(),
    table(header="UTC;Alt (m);IAS km/h", row="10:00:00,5;1500,5;170,1"),
    IGC.format(fixes="\n".join(f"B1000{n:02d}5012345N00712345EA0100001010" for n in range(30))).encode(),
    GPX.format(
        points='<trkpt lat="1" lon="7"><ele>9</ele><time>2026-05-01T10:00:00Z</time></trkpt>'
    ).encode(),
)


@settings(max_examples=150, deadline=None)
@given(
    st.sampled_from(WHOLE),
    st.lists(st.tuples(st.integers(0, 2000), st.sampled_from(BITS), st.integers(0, 60)), max_size=12),
)
def test_whatever_becomes_of_a_file_it_is_read_or_refused_with_a_reason(content, changes):
    for at, put, taken in changes:
        content = content[:at] + put + content[at + taken :]
    try:
        read = read_recording(content)
    except Wrong as wrong:
        assert all(part for problem in wrong.problems for part in problem)
    else:
        assert all((np.diff(flight.time) > 0).all() for flight in read.flights)


def test_nothing_is_missing_of_a_recording_that_has_everything():
    every = ",".join(Column)
    content = table(header=every, row="{at},5000,5000,90,1,0,0,0,0.5,0,0,0,0,50,7,90")
    assert judgements_missing(of(content)[1]) == ()
