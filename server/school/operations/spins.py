"""The spins of an aircraft that were recorded, as the core looks at them beside its card."""

from collections.abc import Iterator

import numpy as np

from keelturn.document import Wrong
from keelturn.flying.conditions import Conditions
from keelturn.formats.reading import Unreadable
from keelturn.formats.recorded import Trace
from keelturn.plan.document import conditions_of
from keelturn.progress.spins_flown import SpinFlown, tells_the_aircraft
from keelturn.recording.flown import Flown
from server import clock
from server.school.models import Aircraft, Recorded, SchoolStandards, Sortie
from server.school.operations.computing import attempts_of, plan_of
from server.school.operations.record import COUNTED_STAGES
from server.school.operations.recordings import TRACE

# Of so many recordings, the latest.
LOOKED_AT = 40


def spins_recorded(aircraft: Aircraft) -> list[SpinFlown]:
    """Of debriefed flights, oldest first; what cannot be read takes no other with it. Three queries."""
    rows = (
        Recorded.objects.filter(sortie__aircraft=aircraft, sortie__stage__in=COUNTED_STAGES, set_aside=False)
        .select_related("sortie__student", "sortie__aircraft", "sortie__place")
        .prefetch_related("sortie__attempts")
        .order_by("-sortie__planned_for", "-pk")[:LOOKED_AT]
    )
    standards = SchoolStandards.in_force()
    found = []
    for row in reversed(rows):
        try:
            found += list(_of(row, _conditions(row.sortie, standards)))
        except (Wrong, Unreadable):
            continue
    return found


def _conditions(sortie: Sortie, standards: SchoolStandards) -> Conditions:
    """What the aircraft's motion follows from, and nothing of people and dates."""
    plan, student = plan_of(sortie), sortie.student
    at = (standards.document(), student.stage_reached, None)
    return conditions_of(plan, sortie.card(), sortie.where(), *at)


def _of(row: Recorded, conditions: Conditions) -> Iterator[SpinFlown]:
    measured = {one["attempt"]: one["measured"] for one in row.said["figures"]}
    for attempt in attempts_of(row.sortie):
        if attempt.id not in row.traces or attempt.id not in measured or not tells_the_aircraft(attempt):
            continue
        told = measured[attempt.id]
        yield SpinFlown(
            flight=row.sortie_id,
            day=clock.day_of(row.sortie.planned_for),
            planned=attempt.planned,
            flown=_flown(TRACE.validate_python(row.traces[attempt.id]), told["ends_s"] - told["begins_s"]),
            recover_ft=told["recover_ft"],
            lost_ft=told["start_ft"] - told["lowest_ft"],
            conditions=conditions,
        )


def _flown(trace: Trace, until_s: float) -> Flown:
    """From where it was begun to its end."""
    seconds = np.array(trace.seconds)
    own = (seconds >= 0.0) & (seconds <= until_s)
    absent = np.full(len(seconds), np.nan)
    columns = (trace.height_ft, trace.ias, trace.g, trace.pitch_deg, trace.bank_deg, trace.heading_deg)
    return Flown.of(seconds[own], *(np.array(c)[own] if c else absent[own] for c in columns))
