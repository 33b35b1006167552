"""What a migration does to what was stored before it."""

from importlib import import_module

import pytest
from django.apps import apps

weather = import_module("server.school.migrations.0020_weather_that_nobody_gave")


@pytest.mark.parametrize(
    ("changed", "given"), [({}, False), ({"wind_kt": 8.0}, True), ({"sources": {"qnh_hpa": "METAR"}}, True)]
)
def test_a_day_in_which_nobody_entered_anything_is_no_longer_given(school, changed, given):
    sortie = school.sortie()
    day = {**weather.BEGAN_WITH, **changed}
    sortie.plan = {**sortie.plan, "day": day}
    sortie.save(update_fields=["plan"])
    weather.not_given(apps, None)
    sortie.refresh_from_db()
    assert sortie.plan["day"] == (day if given else {})
