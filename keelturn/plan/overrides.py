"""Stops that an instructor has overridden: each for the stop that stood there and for how much was short, and
no more (common practice, no published source)."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from zlib import crc32

from keelturn.margins.checks import WORST_FIRST, Check, Kind, Verdict
from keelturn.plan.document import Override


def holds(override: Override, check: Check) -> bool:
    """Whether it covers this stop: the same stop by name, and not further beyond the limit than it was; where
    nothing measures how far, the same that decides."""
    if (check.verdict, check.id, check.title) != (Verdict.STOP, override.check, override.title):
        return False
    if check.room < 0.0:
        return override.room is not None and check.room >= override.room
    return override.number == _decides(check)


def _decides(check: Check) -> str:
    """The number that decides; of what is missing before a lesson, which things are as well as how many."""
    which = f" {crc32(check.sentence.encode()):08x}" if check.kind == Kind.BEFORE else ""
    return f"{check.deciding.shown}{which}"


def overridden(checks: Sequence[Check], overrides: Sequence[Override]) -> tuple[Check, ...]:
    """Every check, those that an override covers with its words; the worst first, what is covered last."""
    found = [_covered(check, [o for o in overrides if o.check == check.id]) for check in checks]
    found.sort(key=lambda c: (c.overridden is not None, WORST_FIRST.index(c.verdict), bool(c.figure)))
    return tuple(found)


def open_stops(checks: Sequence[Check]) -> int:
    return sum(check.verdict == Verdict.STOP and check.overridden is None for check in checks)


def given_for(override: Override, checks: Sequence[Check], by: str, at: datetime) -> Override | None:
    """The override as it is kept: by whom, when, for which stop and how much. None where no such stop
    stands, and where more is short by now, or another number decides, than stood there when it was given."""
    stop = next((c for c in checks if c.id == override.check and c.verdict == Verdict.STOP), None)
    if stop is None:
        return None
    if stop.room < 0.0:
        another = override.room is not None and stop.room < override.room
    else:
        another = override.number not in ("", stop.deciding.shown, _decides(stop))
    if another:
        return None
    written = {
        "by": by,
        "at": at,
        "title": stop.title,
        "number": _decides(stop),
        "room": stop.room,
        "spare": stop.spare,
    }
    return override.model_copy(update=written)


def _covered(check: Check, about: list[Override]) -> Check:
    if check.verdict != Verdict.STOP or not about:
        return check
    held = next((o for o in about if holds(o, check)), None)
    if held is not None:
        return replace(check, overridden=f"{held.by}, for {held.spare}: {held.reason}")
    last = about[-1]
    past = f"The override of {last.by} was for {last.spare}." if last.by else "Its override is not stored."
    return replace(check, hint=f"{check.hint} {past}".strip())
