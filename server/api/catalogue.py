"""What does not change while the application runs, as the core has it: figures, and what can be entered."""

from functools import cache
from typing import get_args

from django.http import HttpRequest, HttpResponse
from ninja import Router

from keelturn.assess.grade import RULES
from keelturn.figures.catalogue import FIGURES
from keelturn.figures.planned import FlownBy
from keelturn.formats.fields import DOCUMENTS, fields_of
from keelturn.noting.attempt import outcomes_of
from keelturn.noting.earned import EARNED
from keelturn.progress.course import Needed
from keelturn.progress.way import STANDINGS
from keelturn.recoveries.schools import schools_for
from keelturn.school.grading import MOST, WORDS
from server.api.doors import REFUSALS, as_json, asking
from server.api.school_schemas import (
    Catalogue,
    FigureOut,
    Forms,
    GradeMeasure,
    GradesAsked,
    ParameterOut,
    SchoolOut,
)

router = Router(tags=["catalogue"])


@router.get("/catalogue", response={200: Catalogue, **REFUSALS})
def catalogue(request: HttpRequest) -> HttpResponse:
    asking(request)
    return as_json(_catalogue())


@cache
def _catalogue() -> bytes:
    figures = [
        FigureOut(
            key=f.key,
            name=f.name,
            family=f.family,
            purpose=f.purpose,
            has_sides=f.has_sides,
            faults=list(f.faults),
            outcomes=list(outcomes_of(f)),
            parameters=[
                ParameterOut(
                    name=n,
                    label=p.label,
                    unit=p.unit,
                    usual=p.usual,
                    least=p.least,
                    most=p.most,
                    switch=p.switch,
                    found=f.closes is not None and n == f.closes.number,
                )
                for n, p in f.parameters.items()
            ],
            schools=[
                SchoolOut(key=s.key, name=s.name, compared_only=s.compared_only, taught=s.taught)
                for s in schools_for(f.situation)
            ]
            if f.situation
            else [],
        )
        for f in FIGURES
    ]
    found = Catalogue(
        flown_by=list(FlownBy),
        earned={flown_by: list(grades) for flown_by, grades in EARNED.items()},
        standings=list(STANDINGS),
        needed=list(get_args(Needed)),
        figures=figures,
    )
    return found.model_dump_json().encode()


@router.get("/grades", response={200: GradesAsked, **REFUSALS})
def grades(request: HttpRequest) -> GradesAsked:
    """What grades are told by, as the program ships it: the chief's own stands in the standards."""
    asking(request)
    measures = [
        GradeMeasure(measure=rule.measure, label=rule.label, unit=rule.unit, most=MOST[rule.measure])
        for rule in RULES
    ]
    return GradesAsked(words=WORDS, measures=measures)


@router.get("/forms", response={200: Forms, **REFUSALS})
def forms(request: HttpRequest) -> HttpResponse:
    """What can be entered in each document, as the core's models say: the editors are made from this."""
    asking(request)
    return as_json(_forms())


@cache
def _forms() -> bytes:
    found = Forms(**{name: list(fields_of(model)) for name, model in DOCUMENTS.items()})
    return found.model_dump_json().encode()
