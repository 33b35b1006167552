"""The air against ICAO Doc 7488/3 and the `ambiance` package (an independent implementation of it)."""

import pytest

from keelturn.air import (
    DayAir,
    cas_from_eas,
    eas_from_cas,
    standard_pressure,
    tas_from_eas,
)
from keelturn.units import FT, HPA, KT, ZERO_C

# Height m, temperature K, pressure Pa, density kg/m3: ICAO Doc 7488/3 table 1, geopotential heights (from
# memory).
TABLE = [
    (0, 288.150, 101325.0, 1.22500),
    (1000, 281.650, 89874.6, 1.11164),
    (2000, 275.150, 79495.2, 1.00649),
    (5000, 255.650, 54019.9, 0.736116),
    (10000, 223.150, 26436.3, 0.412707),
]


@pytest.mark.parametrize(("height", "temperature", "pressure", "density"), TABLE)
def test_standard_atmosphere_table(height, temperature, pressure, density):
    assert DayAir().temperature(height) == pytest.approx(temperature, rel=1e-4)
    assert standard_pressure(height) == pytest.approx(pressure, rel=1e-4)
    assert DayAir().density(height) == pytest.approx(density, rel=1e-4)


def test_standard_atmosphere_against_ambiance(compared):
    """To 10 km, 0.01 %. ambiance takes geometric heights; 6,356,766 m is Doc 7488's earth radius."""
    from ambiance import Atmosphere

    earth = 6356766.0
    for geopotential in range(0, 10001, 500):
        other = Atmosphere(earth * geopotential / (earth - geopotential))
        compared(
            "standard pressure to 10 km, Pa",
            "ambiance package",
            standard_pressure(geopotential),
            float(other.pressure[0]),
            rel=1e-4,
        )
        compared(
            "standard density to 10 km, kg/m3",
            "ambiance package",
            DayAir().density(geopotential),
            float(other.density[0]),
            rel=1e-4,
        )


def test_density_height_on_a_hot_day():
    """Rule of pilots: about 120 ft for each degree above standard (FAA-H-8083-25C, from memory; a rule of
    thumb, 6 %)."""
    hot = DayAir(temperature_k=15 + 20 + ZERO_C)
    assert hot.density_height(0) / FT == pytest.approx(20 * 120, rel=0.06)


def test_pressure_setting_moves_pressure_height():
    """About 27 to 30 ft for each hPa near sea level (FAA-H-8083-25C: 1 inch is about 1,000 ft; from
    memory)."""
    assert DayAir(qnh_pa=1003.25 * HPA).pressure_height(0) / FT == pytest.approx(10 * 27.7, rel=0.05)


def test_airspeeds_agree_at_sea_level_and_part_with_height():
    """At sea level standard CAS = EAS = TAS by definition; at 10,000 ft 100 kt EAS is 116.4 kt TAS (density
    ratio 0.7385)."""
    assert cas_from_eas(100 * KT, standard_pressure(0)) == pytest.approx(100 * KT, rel=1e-9)
    height = 10000 * FT
    assert tas_from_eas(100 * KT, DayAir().density(height)) / KT == pytest.approx(116.4, abs=0.1)
    assert eas_from_cas(
        cas_from_eas(150 * KT, standard_pressure(height)), standard_pressure(height)
    ) == pytest.approx(150 * KT)
    # Compressibility: 200 kt CAS at 10,000 ft is about 199 EAS (correction chart of FAA-H-8083-25C, from
    # memory).
    assert eas_from_cas(200 * KT, standard_pressure(height)) / KT == pytest.approx(199.1, abs=0.4)
