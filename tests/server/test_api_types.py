"""The TypeScript types are generated from the server: stale ones fail here."""

import json
import subprocess
from pathlib import Path

import pytest

from server.api import api
from server.api.schemas import SortieLine
from server.api.student_schemas import StudentLine, StudentOut
from tests.server.doors import description

WEB = Path(__file__).resolve().parents[2] / "web"


def test_the_openapi_document_is_the_servers():
    assert json.loads((WEB / "openapi.json").read_text()) == description(), (
        "web/openapi.json is stale: run 'make api'"
    )


def test_the_typescript_types_are_generated_from_it(tmp_path):
    if not (WEB / "node_modules").exists():
        pytest.fail("web packages are missing: run 'make test', which installs them")
    made = tmp_path / "schema.d.ts"
    subprocess.run(
        ["npx", "--no-install", "openapi-typescript", "openapi.json", "-o", str(made)],
        cwd=WEB,
        check=True,
        capture_output=True,
    )
    assert made.read_text() == (WEB / "src" / "api" / "schema.d.ts").read_text(), (
        "web/src/api/schema.d.ts is stale: run 'make api'"
    )


def described():
    """Every type that a door takes or gives, as its own door describes it, by name."""
    operations = (
        operation
        for _, router in api._routers
        for view in router.path_operations.values()
        for operation in view.operations
    )
    for operation in operations:
        given = [model for model in operation.response_models.values() if hasattr(model, "model_json_schema")]
        for mode, models in (("serialization", given), ("validation", operation.models)):
            for model in models:
                for name, schema in model.model_json_schema(mode=mode).get("$defs", {}).items():
                    yield f"{name}, {mode}", schema


def test_a_students_page_and_line_that_are_sent_as_they_are_kept_are_what_is_promised(school, as_):
    school.sortie()
    (line,) = [one for one in as_("bo").get("/api/students").json() if one["name"] == "Ana"]
    page = as_("bo").get(f"/api/students/{line['id']}").json()
    for sent, promised in ((line, StudentLine), (page, StudentOut), (page["record"][0], SortieLine)):
        assert set(sent) == set(promised.model_fields)
        promised.model_validate(sent)


def test_no_two_types_have_one_name():
    """The document would have one of them for both, without a word."""
    known = {}
    assert [name for name, schema in described() if known.setdefault(name, schema) != schema] == []
    assert len(known) > 200
