"""A day in which nobody entered anything was stored as a standard one: of flights still to come it is not
given."""

from django.db import migrations

# What a day began with, by its fields.
BEGAN_WITH = {
    "qnh_hpa": 1013.25,
    "temperature_c": 15.0,
    "wind_from_deg": 0.0,
    "wind_kt": 0.0,
    "gust_kt": None,
    "visibility_sm": 10.0,
    "cloud_base_ft": None,
    "winds": [],
    "report": "",
    "observed": None,
    "sources": {},
}


def not_given(apps, schema_editor):
    sorties = apps.get_model("school", "Sortie").objects.filter(stage__in=("planned", "briefed"))
    for sortie in sorties.only("plan").iterator():
        day = sortie.plan.get("day")
        if isinstance(day, dict) and day == BEGAN_WITH:
            sortie.plan = {**sortie.plan, "day": {}}
            sortie.save(update_fields=["plan"])


class Migration(migrations.Migration):
    dependencies = [("school", "0019_sorties_are_sought")]
    operations = [migrations.RunPython(not_given, migrations.RunPython.noop, elidable=True)]
