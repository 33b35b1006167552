"""The TypeScript types are generated from the server: stale ones fail here."""

import json
import subprocess
from pathlib import Path

import pytest

from server.api import api

WEB = Path(__file__).resolve().parents[2] / "web"


def test_the_openapi_document_is_the_servers():
    assert json.loads((WEB / "openapi.json").read_text()) == json.loads(
        json.dumps(api.get_openapi_schema(), default=str)
    ), "web/openapi.json is stale: run 'make api'"


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
