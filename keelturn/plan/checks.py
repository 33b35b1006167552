"""Checks: stop, mind, fine. Each has the number that decides, how much is to spare, and a sentence a student understands."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from keelturn.aircraft.loading import LoadPoint
from keelturn.plan.chain import Exposure
from keelturn.plan.conditions import Conditions
from keelturn.plan.costs import Shortfall
from keelturn.plan.floors import regulation_floor
from keelturn.plan.standards import Standards
from keelturn.working import Answer, Source, given, in_words

Verdict = Literal["stop", "mind", "fine"]
WORST_FIRST: dict[Verdict, int] = {"stop": 0, "mind": 1, "fine": 2}


@dataclass(frozen=True, slots=True)
class Check:
    """figure: id of the figure it is about, None for the whole flight. room: what is to spare, in the deciding number's unit,
    negative when short; spare says it in words."""

    key: str
    verdict: Verdict
    title: str
    sentence: str
    deciding: Answer | None
    spare: str
    figure: str | None = None
    overridden: str | None = None
    room: float = 0.0


def judged(key: str, title: str, deciding: Answer, spare: float, mind_below: float, sentence: str,
           figure: str | None = None) -> Check:
    """Stop when less than nothing is to spare, mind when less than `mind_below`, else fine."""
    verdict: Verdict = "stop" if spare < 0 else "mind" if spare < mind_below else "fine"
    words = in_words(abs(spare), deciding.unit, "up" if spare < 0 else "down")
    return Check(key, verdict, title, sentence, deciding, f"{words} short" if spare < 0 else f"{words} to spare", figure,
                 room=spare)


# What is said once for all figures when none of them is near its limit: key's beginning, title, and how the closest is named.
GATHERED = (("floor_", "Every figure ends above the floor"), ("vne_", "Speed stays below Vne"), ("g_", "g stays inside the limits"))


def gathered(found: list[Check]) -> list[Check]:
    """Stops and minds as they are; of the fine ones about the same limit only the closest, said for all."""
    kept = [c for c in found if c.verdict != "fine"]
    for prefix, title in GATHERED:
        fine = [c for c in found if c.verdict == "fine" and c.key.startswith(prefix)]
        if not fine:
            continue
        closest = min(fine, key=lambda c: c.room)
        others = any(c.key.startswith(prefix) for c in kept)
        kept.append(replace(closest, title=f"The others: {title[0].lower()}{title[1:]}" if others else title,
                            sentence=f"Closest: {closest.title.rsplit(':', 1)[0]}. {closest.sentence}"))
    return kept


def weight_checks(c: Conditions) -> list[Check]:
    balance, weight, arm = c.card.balance, c.loading.weight, c.loading.arm
    limit = balance.aerobatic_most_lb.answer("Most weight for aerobatics", "lb")
    spare = limit.value - weight.value
    over = f"{in_words(-spare, 'lb', 'up')} over: take out fuel or baggage." if spare < 0 else "The limits of the manual hold at this weight."
    found = [judged("weight", "Aerobatic weight", weight, spare, 20.0, f"{weight.shown} of {limit.shown}. {over}")]
    forward, aft = balance.aerobatic_forward_in.value, balance.aerobatic_aft_in.value
    room = min(arm.value - forward, aft - arm.value)
    where = "inside" if room >= 0 else "outside"
    found.append(judged("balance", "Centre of gravity", arm, room, 0.3,
                        f"{arm.value:.1f} in, {where} {forward:g} to {aft:g}. Too far aft, a spin may not stop."))
    for seat, flown in zip(balance.seats, c.loading.weight.inputs[1:3], strict=True):
        if flown.value > seat.most_lb:
            found.append(judged(f"seat_{seat.name}", f"{seat.name} seat", flown, seat.most_lb - flown.value, 0.0,
                                f"{flown.shown} in a seat placarded {seat.most_lb:g} lb."))
    return found


def spin_weight_check(c: Conditions) -> Check | None:
    """The manual's own limit of weight for spins, where the plan has spins."""
    if c.card.spin is None:
        return None
    limit = c.card.spin.most_lb.answer("Most weight for spins", "lb")
    weight = c.loading.weight
    return judged("spin_weight", "Weight for spins", weight, limit.value - weight.value, 20.0, f"{weight.shown} of {limit.shown}.")


def floor_checks(c: Conditions) -> list[Check]:
    if c.own_floor_ft is None:
        return []
    rule = regulation_floor(c)
    spare = c.own_floor_ft - rule.value
    own = given("Instructor's own floor", c.own_floor_ft, "ft", Source("plan", "set for this sortie"), "up")
    sentence = (
        f"Your floor of {own.shown} is under the regulation's {rule.shown}. Raise it; the regulation's is used meanwhile."
        if spare < 0 else f"Your own floor of {own.shown} is above the regulation's {rule.shown}."
    )
    return [judged("own_floor", "Your own floor", own, spare, 0.0, sentence)]


def fuel_check(c: Conditions, minutes: Answer) -> Check:
    reserve = c.standards.reserve_min.answer("Reserve", "min")
    tank = c.loading.aerobatic_minutes
    spare = tank.value - reserve.value - minutes.value
    return judged("fuel", "Fuel in the aerobatic tank", tank, spare, 10.0,
                  f"{minutes.shown} planned and {reserve.shown} kept, {in_words(tank.value, 'min', 'down')} in the tank.")


def weather_checks(c: Conditions, highest_start_ft: float) -> list[Check]:
    least = c.standards.visibility_sm.answer("Least visibility", "SM")
    seen = given("Visibility", c.day.visibility_sm, "SM", Source("day", "reported"))
    found = [judged("visibility", "Visibility", seen, seen.value - least.value, 2.0, f"{seen.shown} reported, {least.shown} asked for.")]
    if c.day.cloud_base_ft is not None:
        base = given("Cloud base", c.day.cloud_base_ft, "ft", Source("day", "reported, on QNH"), "down")
        above = c.standards.cloud_above_ft.answer("Kept below cloud", "ft", "up")
        spare = base.value - highest_start_ft - above.value
        sentence = f"Base {base.shown}; the highest start is {in_words(highest_start_ft, 'ft', 'up')} and {above.shown} is kept below cloud."
        found.append(judged("cloud", "Cloud base", base, spare, 500.0, sentence))
    return found


def parachute_check(days: float | None, standards: Standards) -> Check:
    limit = standards.parachute_days.answer("Days between repacks", "days")
    if days is None:
        return Check("parachute", "mind", "Parachutes", "No repack date on record. Look at the card in the pack.", limit, "not known")
    age = given("Days since the last repack", days, "days", Source("school", "aircraft record"))
    return judged("parachute", "Parachutes", age, limit.value - age.value, 14.0,
                  f"Oldest was packed {age.value:.0f} days ago, limit {limit.value:.0f}.")


def approval_check(c: Conditions, key: str, name: str, figure: str) -> Check | None:
    """A stop when the card does not approve the figure; nothing when it does (one line for all of them is enough)."""
    if key in c.card.approved:
        return None
    source = Source("flight manual", f"{c.card.name}, approved figures")
    listed = given("Approved figures on the card", float(len(c.card.approved)), "", source)
    return Check(f"approved_{figure}", "stop", f"{name} not approved",
                 f"The manual of {c.card.name} does not approve this figure. Choose another aircraft or another figure.",
                 listed, "not approved", figure)


def height_checks(figure: str, name: str, start: Answer, lowest: Answer, highest: Answer, block_top_ft: float, top_words: str) -> list[Check]:
    spare = start.value - lowest.value
    ends = "below the floor" if spare < 0 else "above the floor"
    found = [judged(f"floor_{figure}", f"{name}: ends {ends}", lowest, spare, 200.0,
                    f"Starts at {start.shown}; the lowest start that keeps the floor 19 times in 20 is {lowest.shown}.", figure)]
    if start.value > block_top_ft:
        over = in_words(start.value - block_top_ft, "ft", "up")
        found.append(Check(f"top_{figure}", "stop", f"{name}: above the block",
                           f"Starts {over} above {top_words}. Start lower, fly fewer turns, or use another place.",
                           start, f"{over} over", figure))
    elif highest.value > block_top_ft:
        over = in_words(highest.value - block_top_ft, "ft", "up")
        found.append(Check(f"top_{figure}", "stop", f"{name}: rises above the block",
                           f"Rises to {highest.shown}, {over} above {top_words}. Start lower, or use another place.", highest,
                               f"{over} over",
                                   figure))
    return found


def speed_checks(c: Conditions, figure: str, name: str, entry: Answer, fastest: Answer) -> list[Check]:
    card, unit = c.card, c.card.speed_unit
    never = card.speed_answer(card.speeds.never_exceed_ias, "Vne")
    margin = c.standards.speed_margin.answer("Kept below Vne", unit)
    top = entry if entry.value > never.value else max(entry, fastest, key=lambda a: a.value)
    what = "Enters at" if top is entry else "Reaches"
    found = [judged(f"vne_{figure}", f"{name}: speed", top, never.value - top.value, margin.value,
                    f"{what} {top.shown}; Vne is {never.shown}.", figure)]
    if entry.value < c.stall.value:
        found.append(judged(f"slow_{figure}", f"{name}: entry below the stall", entry, entry.value - c.stall.value, 0.0,
                            f"Enters at {entry.shown}; the stall speed today is {c.stall.shown}.", figure))
    return found


def cannot_be_flown(figure: str, name: str, entry: Answer, shortfall: Shortfall) -> Check:
    """With the part in which it stops, and the speed that is missing there."""
    missing = "" if shortfall.speed is None else f", {in_words(shortfall.speed, entry.unit, 'up')} short there"
    return Check(f"possible_{figure}", "stop", f"{name}: cannot be flown so",
                 f"Entered at {entry.shown}: {shortfall.words} ({shortfall.part.lower()}{missing}). Enter faster, or ask less of it.",
                 entry, "not enough speed", figure)


def load_point_checks(c: Conditions, points: Sequence[LoadPoint]) -> list[Check]:
    """The envelope again at the first figure and at the end, as fuel burns; said only where it leaves the limits."""
    found = []
    for point in points[1:]:
        if not point.inside:
            arm = point.loading.arm
            found.append(Check(f"balance_{point.when}", "stop", f"Weight and balance at the {point.when}",
                               f"With the fuel left then: {point.loading.weight.shown} at {arm.value:.1f} in, outside the aerobatic limits.",
                               arm, "outside"))
    return found


def order_checks(people: Exposure, titles: Mapping[str, str]) -> list[Check]:
    """What the order does to the people: pushes straight before hard pulls (AC 91-61, from memory), and the comfort load."""
    found = []
    advice = Source("regulation", "FAA AC 91-61, from memory")
    for push, pull in people.pushes_before_pulls:
        count = given("Pushes straight before a hard pull", float(len(people.pushes_before_pulls)), "", advice)
        found.append(Check(f"order_{pull}", "mind", f"{titles[pull]}: straight after a push",
                           f"{titles[push]} is flown at less than no g; a hard pull right after is harder to bear. Put a gentle one between.",
                           count, "change the order", pull))
    if people.passes_limit_at is not None:
        load = given("Comfort load", people.comfort_load, "", Source("common practice", "no published source"))
        found.append(Check("comfort", "mind", "Much for one flight",
                           f"From {titles[people.passes_limit_at]} on it is more than most take well in one flight at this stage: "
                           f"{people.comfort_load:.0f} of {people.comfort_limit:.0f}. Ask for the number after every figure.",
                           load, f"{people.comfort_load - people.comfort_limit:.0f} over", people.passes_limit_at))
    return found


def most_g(c: Conditions, flap: bool) -> Answer:
    """The limit load factor: lower with flap."""
    return c.card.limits.flap_g.answer("Limit with flap", "g") if flap else c.card.limits.most_g.answer("Limit", "g")


def g_checks(c: Conditions, figure: str, name: str, most: Answer, rolling: Answer | None, flap: bool = False) -> list[Check]:
    """Against the limit, and against the lower one while rolling (said only when it is the nearer of the two)."""
    limit = most_g(c, flap)
    found = [judged(f"g_{figure}", f"{name}: g", most, limit.value - most.value, 0.5,
                    f"Pulls {most.shown}; the limit{' with flap' if flap else ''} is {limit.shown}.", figure)]
    if rolling is not None:
        lower = c.card.limits.rolling_g.answer("Limit while rolling", "g")
        check = judged(f"rolling_g_{figure}", f"{name}: g while rolling", rolling, lower.value - rolling.value, 0.3,
                       f"{rolling.shown} while rolling; the limit is {lower.shown}.", figure)
        if check.verdict != "fine":
            found.append(check)
    return found
