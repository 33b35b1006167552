"""The API attacked from its own description, as each role: no answer is a failure of the server, and each is
one that the description has. A fixed seed here; `make attack` goes on for longer."""

import json
import os
from urllib.parse import quote, urlencode

import jsonschema
import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis import strategies as st

from tests.server.doors import description

pytestmark = pytest.mark.long

EXAMPLES = int(os.environ.get("KEELTURN_ATTACK", "4"))
DESCRIPTION = description()
OPERATIONS = {
    found.ok().label: found.ok() for found in schemathesis.openapi.from_dict(DESCRIPTION).get_all_operations()
}
WHO = ("nobody", "chief", "bo", "cy", "ana")


def sent(client, case):
    """As a browser or a script would send what was made up."""
    path = case.path
    for name, value in (case.path_parameters or {}).items():
        path = path.replace("{" + name + "}", quote(str(value), safe=""))
    query = urlencode({k: v for k, v in (case.query or {}).items() if v is not None}, doseq=True)
    body = json.dumps(case.body).encode() if isinstance(case.body, dict | list | str | int | float) else b""
    url = f"{path}?{query}" if query else path
    return client.generic(case.method, url, body, content_type="application/json")


def faults_of(case, response):
    """What of an answer is not as it is described."""
    answers = DESCRIPTION["paths"][case.path][case.method.lower()]["responses"]
    described = answers.get(str(response.status_code))
    if response.status_code >= 500:
        return f"it failed: {response.content[:300]!r}"
    if described is None:
        return f"{response.status_code} is not described: {response.content[:300]!r}"
    kinds = described.get("content", {})
    kind = response.headers.get("Content-Type", "").split(";")[0]
    if kinds and kind not in kinds:
        return f"{kind} is not among {list(kinds)}"
    if kind == "application/json" and (schema := kinds.get(kind, {}).get("schema")):
        whole = {**schema, "components": DESCRIPTION["components"]}
        wrong = next(jsonschema.Draft202012Validator(whole).iter_errors(response.json()), None)
        return None if wrong is None else f"{wrong.json_path}: {wrong.message[:300]}"
    return None


@pytest.mark.parametrize("label", sorted(OPERATIONS))
def test_every_door_withstands_what_its_description_allows_and_more(school, as_, label):
    sortie = school.sortie()
    clients = {who: as_(None if who == "nobody" else who) for who in WHO}
    ids = {
        "sortie_id": sortie.pk,
        "aircraft_id": school.aircraft.pk,
        "place_id": school.place.pk,
        "student_id": sortie.student_id,
        "person_id": school.people["dee"].pk,
        "key": "loop",
    }
    operation = OPERATIONS[label]

    @seed(int(os.environ.get("KEELTURN_SEED", "11")))
    @settings(
        max_examples=EXAMPLES * len(WHO),
        deadline=None,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy(), who=st.sampled_from(WHO), there=st.booleans())
    def attacked(case, who, there):
        parameters = dict(case.path_parameters or {})
        if there:
            # At something that is there: a door that says "not here" is soon learned.
            parameters |= {name: value for name, value in ids.items() if name in parameters}
        case.path_parameters = parameters
        response = sent(clients[who], case)
        assert faults_of(case, response) is None, (who, case.path_parameters, case.query, case.body)

    attacked()
