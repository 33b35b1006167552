"""Co-ordination: figures that hold height and teach the feet (common practice, no published source)."""

from functools import partial

from keelturn.figures.faults import EVERY, faults
from keelturn.figures.figure import Begin, Family, Figure, Gate, Parameter
from keelturn.motion.legs import Leg

held = partial(
    Figure, family=Family.COORDINATION, category="normal", stage="first flights", holds_height=True
)

STEEP_TURN = held(
    key="steep_turn",
    name="Steep turn",
    unsettles=1,
    purpose="Warm up hands and eyes, feel g build, hold height by the horizon.",
    look_at="The horizon against the cowling; bank first, then the small pull.",
    gate=Gate("manoeuvring", 0.90, "full as the bank passes 45", "level, into wind"),
    parameters={"bank_deg": Parameter("Bank", "deg", 60.0, 30.0, 65.0)},
    faults=faults("nose_dropped", "over_banked", "chased_instruments", "ball_out", *EVERY),
    take_over_words="the nose is still dropping",
    stop_words=("Below the gate, stop.", "Nose dropping: unload, roll level, then raise it."),
    steps=(
        "Lookout, then roll in smoothly.",
        "Past 45 degrees: power and a small pull, hold the picture.",
        "Thirty degrees before the heading, roll out and let the pull off.",
    ),
    legs=(
        Leg("Roll in", throttle=1.0, roll_to_deg="bank_to_side_deg"),
        Leg("Turn", until="turned_deg", amount=320.0),
        Leg("Roll out", roll_to_deg=0.0),
    ),
    throttle=0.7,
    take_over=(75.0, -15.0),
    titled=lambda settings: f"Steep turn {settings['bank_deg']:.0f}°",
)

BANK_REVERSALS = held(
    key="bank_reversals",
    name="Bank reversals on a point",
    unsettles=1,
    purpose="Feet and hand together: the nose stays pinned while the wings go from side to side.",
    look_at="A point on the horizon over the nose; it must not move.",
    gate=Gate("stall", 1.6, "cruise", "level, a point ahead"),
    parameters={"bank_deg": Parameter("Bank", "deg", 45.0, 20.0, 60.0)},
    faults=faults("point_left", "ball_out", "chased_instruments", *EVERY),
    take_over_words="the nose leaves the point by more than 20 degrees",
    stop_words=("Below the gate, stop.",),
    steps=(
        "Pick a point.",
        "Aileron and rudder together to one side, then the other, without stopping.",
        "The nose stays on the point.",
    ),
    legs=(
        Leg("To one side", throttle="level_power", roll_to_deg="bank_to_side_deg"),
        Leg("Across", roll_to_deg="-bank_to_side_deg"),
        Leg("Across", roll_to_deg="bank_to_side_deg"),
        Leg("Level", roll_to_deg=0.0),
        Leg("Level", g="settle_g", until="path_up_to_deg"),
    ),
    throttle=0.6,
    take_over=(60.0, -15.0),
)

SLOW_FLIGHT = held(
    key="slow_flight",
    name="Slow flight",
    unsettles=0,
    purpose="Know how the controls feel with little air over them, and what the buffet says.",
    look_at="Nose on the horizon; ears for the wind, seat for the buffet.",
    gate=Gate("stall", 1.2, "as needed to hold height", "nose high, level"),
    parameters={"hold_s": Parameter("Held", "s", 40.0, 10.0, 180.0)},
    faults=faults("nose_dropped", "ball_out", "chased_instruments", *EVERY),
    take_over_words="a wing drops past 30",
    stop_words=("Wing drops: stick forward, then level.", "Below the gate, stop."),
    steps=(
        "Slow down level, add power as the drag rises.",
        "Small, early inputs; rudder for every aileron.",
        "Out: full power, hold height.",
    ),
    legs=(Leg("Held slow", throttle="level_power", until="seconds", amount="hold_s"),),
    has_sides=False,
    take_over=(45.0, -25.0),
)

ADVERSE_YAW = held(
    key="adverse_yaw",
    name="Adverse-yaw demonstration",
    unsettles=1,
    purpose="See the nose go the wrong way when aileron comes without rudder.",
    look_at="The nose against the horizon as the aileron goes over.",
    gate=Gate("stall", 1.35, "as needed to hold height", "level"),
    parameters={"bank_deg": Parameter("Bank", "deg", 30.0, 15.0, 45.0)},
    faults=faults("ball_out", "chased_instruments", "nose_dropped", *EVERY),
    take_over_words="a wing drops past 45",
    stop_words=("Below the gate, stop.",),
    steps=(
        "Feet on the floor, roll one way: watch the nose.",
        "Roll the other way.",
        "Now with rudder: it stays.",
    ),
    legs=(
        Leg("Feet off", g=1.0, throttle="level_power", roll_to_deg="bank_to_side_deg", drag=1.15),
        Leg("Across", g=1.0, roll_to_deg="-bank_to_side_deg", drag=1.15),
        Leg("Level", g=1.0, roll_to_deg=0.0, drag=1.15),
        Leg("Level", g="settle_g", throttle=1.0, until="path_up_to_deg"),
    ),
    take_over=(45.0, -20.0),
)

FULL_RUDDER_SLIP = Figure(
    key="full_rudder_slip",
    name="Full-rudder slip",
    family=Family.COORDINATION,
    category="normal",
    stage="first flights",
    unsettles=2,
    purpose="Lose height without speed, and feel the aircraft with all the rudder in.",
    look_at="The track over the ground, not the nose.",
    gate=Gate("glide", 1.05, "idle", "gliding, wings level"),
    parameters={"hold_s": Parameter("Held", "s", 15.0, 5.0, 60.0)},
    faults=faults("ball_out", "chased_instruments", *EVERY),
    take_over_words="the speed falls toward the stall",
    stop_words=("Speed falling: rudder out, nose down.", "Below the gate, stop."),
    steps=(
        "Idle, glide.",
        "Bank into it, rudder to the stop against it, hold the speed by attitude.",
        "Rudder out first, then level.",
    ),
    begin=Begin(path_deg=-11.0),
    legs=(
        Leg("Slipping", g=None, throttle=0.0, until="seconds", amount="hold_s", drag="slip_drag"),
        Leg("Out of the slip", g="settle_g", throttle=1.0, until="path_up_to_deg"),
    ),
    take_over=(45.0, -20.0),
)

FIGURES = (STEEP_TURN, BANK_REVERSALS, SLOW_FLIGHT, ADVERSE_YAW, FULL_RUDDER_SLIP)
