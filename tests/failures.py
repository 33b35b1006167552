"""The last lines of a run that failed: which test, why, and how to run it alone."""

import os
import shlex
from pathlib import Path

import pytest

ALONE = ".venv/bin/python -m pytest"
LONGEST = 300


def reason(report: pytest.TestReport | pytest.CollectReport) -> str:
    """The first line of the error, or what stands last of it where there is none."""
    crash = getattr(report.longrepr, "reprcrash", None)
    words = (crash.message if crash else str(report.longrepr)).strip()
    return words.splitlines()[0 if crash else -1][:LONGEST] if words else "no reason given"


def pytest_terminal_summary(terminalreporter: pytest.TerminalReporter) -> None:
    failed = [r for kind in ("failed", "error") for r in terminalreporter.stats.get(kind, [])]
    if not failed:
        return
    lines = [f"{r.nodeid}\n    {reason(r)}\n    {ALONE} {shlex.quote(r.nodeid)}" for r in failed]
    terminalreporter.section("failed: what, why, and how to run it alone")
    terminalreporter.write_line("\n".join(lines))
    # For who says it once more, when others who ran beside have ended.
    if "KEELTURN_FAILURES" in os.environ:
        Path(os.environ["KEELTURN_FAILURES"]).write_text("\n".join(lines))
