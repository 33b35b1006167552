"""What was compared with what, printed as one table at the end of `make outside`."""

import os

import pytest

ROWS: list[tuple[str, str, float, float, str]] = []


@pytest.fixture
def compared():
    """compared(check, source, ours, theirs, rel=, abs=): asserts, and keeps the line for the table."""

    def compare(
        check: str, source: str, ours: float, theirs: float, rel: float = 0.0, abs: float = 0.0
    ) -> None:
        within = max(rel * (theirs if theirs >= 0 else -theirs), abs)
        allowed = (
            f"{rel:.2g} relative" if rel and not abs else f"{abs:g}" if not rel else f"{rel:.0%} or {abs:g}"
        )
        ROWS.append((check, source, ours, theirs, allowed))
        off = ours - theirs
        assert -within <= off <= within, (
            f"{check}: ours {ours:.6g}, {source} {theirs:.6g}, allowed {within:.3g}"
        )

    return compare


def pytest_terminal_summary(terminalreporter):
    if not ROWS or not os.environ.get("KEELTURN_TABLE"):
        return
    worst: dict[tuple[str, str, str], tuple[float, float, int]] = {}
    for check, source, ours, theirs, within in ROWS:
        ours0, theirs0, count = worst.get((check, source, within), (ours, theirs, 0))
        keep = (ours, theirs) if abs(ours - theirs) >= abs(ours0 - theirs0) else (ours0, theirs0)
        worst[check, source, within] = (*keep, count + 1)
    terminalreporter.write_line(
        "\n| check | source | cases | worst: ours | theirs | off | within |\n|---|---|---|---|---|---|---|"
    )
    for (check, source, within), (ours, theirs, count) in sorted(worst.items()):
        off = f"{100 * (ours / theirs - 1):+.3g} %" if abs(theirs) > 1e-9 else f"{ours - theirs:+.3g}"
        terminalreporter.write_line(
            f"| {check} | {source} | {count} | {ours:.6g} | {theirs:.6g} | {off} | {within} |"
        )
