"""The tests of the web part, and what of them failed. Standard library only, as run.py."""

import json
import re
import shlex
from pathlib import Path
from typing import Any

from tools.steps import BASE, WEB, Stopped, run, say


def web_tests() -> None:
    """What failed is said once more at the end: where, why, and how to run it alone."""
    say("Tests of the web part, beside the others")
    found = BASE / ".cache" / "web-tests.json"
    found.unlink(missing_ok=True)
    report = ["--", "--reporter=dot", "--reporter=json", f"--outputFile.json={found}"]
    try:
        run(["npm", "run", "--silent", "test", *report], "Tests of the web part", cwd=WEB)
    except Stopped as stopped:
        failed = web_failures(json.loads(found.read_text())) if found.exists() else ""
        raise Stopped(f"{stopped}\n{failed}".rstrip()) from stopped


def web_failures(report: dict[str, Any]) -> str:
    lines = []
    for file in report["testResults"]:
        name = Path(file["name"]).relative_to(WEB)
        if file.get("message"):
            lines += [
                str(name),
                f"    {file['message'].splitlines()[0]}",
                f"    cd web && npx vitest run {name}",
            ]
        for test in file["assertionResults"]:
            if test["status"] == "failed":
                alone = f"cd web && npx vitest run {name} -t {shlex.quote(test['fullName'])}"
                why = re.sub(r"\x1b\[\d*m", "", test["failureMessages"][0]).splitlines()[0]
                lines += [f"{name}: {test['fullName']}", f"    {why}", f"    {alone}"]
    return "\n".join(lines)
