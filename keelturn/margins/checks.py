"""Checks: stop, mind, fine. Each has the number that decides, how much is to spare, and a sentence a student
understands."""

from dataclasses import dataclass, replace
from typing import Literal

from keelturn.flying.conditions import Conditions
from keelturn.flying.costs import Shortfall
from keelturn.working import Answer, Source, given, in_words

Verdict = Literal["stop", "mind", "fine"]
# What can still be changed about it, in the order in which it is easiest to change.
Change = Literal["sequence", "load", "day", "people", "aircraft"]
CHANGED_BY: tuple[tuple[str, Change], ...] = (
    ("weight", "load"),
    ("balance", "load"),
    ("seat_", "load"),
    ("spin_weight", "load"),
    ("fuel", "load"),
    ("visibility", "day"),
    ("cloud", "day"),
    ("daylight", "day"),
    ("report", "day"),
    ("feeling", "people"),
    ("comfort", "people"),
    ("worn", "people"),
    ("parachute", "aircraft"),
    ("approved_", "aircraft"),
)
WORST_FIRST: dict[Verdict, int] = {"stop": 0, "mind": 1, "fine": 2}


@dataclass(frozen=True, slots=True)
class Check:
    """figure: id of the figure it is about, None for the whole flight. room: what is to spare, in the
    deciding number's unit, negative when short; spare says it in words. change: what would be changed to mend
    it."""

    key: str
    verdict: Verdict
    title: str
    sentence: str
    deciding: Answer | None
    spare: str
    figure: str | None = None
    overridden: str | None = None
    room: float = 0.0
    change: Change = "sequence"


def judged(
    key: str,
    title: str,
    deciding: Answer,
    spare: float,
    mind_below: float,
    sentence: str,
    figure: str | None = None,
) -> Check:
    """Stop when less than nothing is to spare, mind when less than `mind_below`, else fine."""
    verdict: Verdict = "stop" if spare < 0 else "mind" if spare < mind_below else "fine"
    words = in_words(abs(spare), deciding.unit, "up" if spare < 0 else "down")
    return Check(
        key,
        verdict,
        title,
        sentence,
        deciding,
        f"{words} short" if spare < 0 else f"{words} to spare",
        figure,
        room=spare,
    )


def placed(found: Check) -> Check:
    """The check with what can be changed about it."""
    return replace(
        found,
        change=next((change for start, change in CHANGED_BY if found.key.startswith(start)), "sequence"),
    )


# What is said once for all figures when none of them is near its limit: key's beginning, title, and how the
# closest is named.
GATHERED = (
    ("floor_", "Every figure ends above the floor"),
    ("vne_", "Speed stays below Vne"),
    ("g_", "g stays inside the limits"),
)


def gathered(found: list[Check]) -> list[Check]:
    """Stops and minds as they are; of the fine ones about the same limit only the closest, said for all."""
    kept = [c for c in found if c.verdict != "fine"]
    for prefix, title in GATHERED:
        fine = [c for c in found if c.verdict == "fine" and c.key.startswith(prefix)]
        if not fine:
            continue
        closest = min(fine, key=lambda c: c.room)
        others = any(c.key.startswith(prefix) for c in kept)
        kept.append(
            replace(
                closest,
                title=f"The others: {title[0].lower()}{title[1:]}" if others else title,
                sentence=f"Closest: {closest.title.rsplit(':', 1)[0]}. {closest.sentence}",
            )
        )
    return kept


def approval_check(c: Conditions, key: str, name: str, figure: str) -> Check | None:
    """A stop when the card does not approve the figure; nothing when it does (one line for all of them is
    enough)."""
    if key in c.card.approved:
        return None
    source = Source("flight manual", f"{c.card.name}, approved figures")
    listed = given("Approved figures on the card", float(len(c.card.approved)), "", source)
    return Check(
        f"approved_{figure}",
        "stop",
        f"{name} not approved",
        f"The manual of {c.card.name} does not approve this figure. Choose another aircraft or another"
        " figure.",
        listed,
        "not approved",
        figure,
    )


def height_checks(
    figure: str,
    name: str,
    start: Answer,
    lowest: Answer,
    highest: Answer,
    block_top_ft: float,
    top_words: str,
) -> list[Check]:
    spare = start.value - lowest.value
    ends = "below the floor" if spare < 0 else "above the floor"
    found = [
        judged(
            f"floor_{figure}",
            f"{name}: ends {ends}",
            lowest,
            spare,
            200.0,
            f"Starts at {start.shown}; the lowest start that keeps the floor 19 times in 20 is"
            f" {lowest.shown}.",
            figure,
        )
    ]
    if start.value > block_top_ft:
        over = in_words(start.value - block_top_ft, "ft", "up")
        found.append(
            Check(
                f"top_{figure}",
                "stop",
                f"{name}: above the block",
                f"Starts {over} above {top_words}. Start lower, fly fewer turns, or use another place.",
                start,
                f"{over} over",
                figure,
            )
        )
    elif highest.value > block_top_ft:
        over = in_words(highest.value - block_top_ft, "ft", "up")
        found.append(
            Check(
                f"top_{figure}",
                "stop",
                f"{name}: rises above the block",
                f"Rises to {highest.shown}, {over} above {top_words}. Start lower, or use another place.",
                highest,
                f"{over} over",
                figure,
            )
        )
    return found


def speed_checks(
    c: Conditions, figure: str, name: str, entry: Answer, fastest: Answer, flap: bool, least_share: float
) -> list[Check]:
    card, unit = c.card, c.card.speed_unit
    never = card.speed_answer(card.speeds.never_exceed_ias, "Vne")
    margin = c.standards.speed_margin.answer("Kept below Vne", unit)
    top = entry if entry.value > never.value else max(entry, fastest, key=lambda a: a.value)
    what = "Enters at" if top is entry else "Reaches"
    found = [
        judged(
            f"vne_{figure}",
            f"{name}: speed",
            top,
            never.value - top.value,
            margin.value,
            f"{what} {top.shown}; Vne is {never.shown}.",
            figure,
        )
    ]
    if flap:
        most = card.speed_answer(card.speeds.flap_most_ias, "Vfe")
        found.append(
            judged(
                f"vfe_{figure}",
                f"{name}: speed with flap",
                top,
                most.value - top.value,
                5.0,
                f"{what} {top.shown} with flap; Vfe is {most.shown}.",
                figure,
            )
        )
    # A gate may be meant a little below the stall without power: its own share of it is what may not be
    # undercut.
    if entry.value < least_share * c.stall.value - 0.5:
        found.append(
            judged(
                f"slow_{figure}",
                f"{name}: entry below the stall",
                entry,
                entry.value - c.stall.value,
                0.0,
                f"Enters at {entry.shown}; the stall speed today is {c.stall.shown}.",
                figure,
            )
        )
    return found


def cannot_be_flown(figure: str, name: str, entry: Answer, shortfall: Shortfall) -> Check:
    """With the part in which it stops, and the speed that is missing there."""
    missing = (
        "" if shortfall.speed is None else f", {in_words(shortfall.speed, entry.unit, 'up')} short there"
    )
    return Check(
        f"possible_{figure}",
        "stop",
        f"{name}: cannot be flown so",
        f"Entered at {entry.shown}: {shortfall.words} ({shortfall.part.lower()}{missing}). Enter faster, or"
        " ask less of it.",
        entry,
        "not enough speed",
        figure,
    )


def most_g(c: Conditions, flap: bool) -> Answer:
    """The limit load factor: lower with flap."""
    return (
        c.card.limits.flap_g.answer("Limit with flap", "g")
        if flap
        else c.card.limits.most_g.answer("Limit", "g")
    )


def g_checks(
    c: Conditions, figure: str, name: str, most: Answer, rolling: Answer | None, flap: bool = False
) -> list[Check]:
    """Against the limit, and against the lower one while rolling (said only when it is the nearer of the
    two)."""
    limit = most_g(c, flap)
    found = [
        judged(
            f"g_{figure}",
            f"{name}: g",
            most,
            limit.value - most.value,
            0.5,
            f"Pulls {most.shown}; the limit{' with flap' if flap else ''} is {limit.shown}.",
            figure,
        )
    ]
    if rolling is not None:
        lower = c.card.limits.rolling_g.answer("Limit while rolling", "g")
        check = judged(
            f"rolling_g_{figure}",
            f"{name}: g while rolling",
            rolling,
            lower.value - rolling.value,
            0.3,
            f"{rolling.shown} while rolling; the limit is {lower.shown}.",
            figure,
        )
        if check.verdict != "fine":
            found.append(check)
    return found
