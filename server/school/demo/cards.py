"""Three invented aircraft with physically consistent numbers (docs/model.md says how they were checked)."""

from typing import Any


def _n(value: float, ref: str, source: str = "flight manual") -> dict[str, Any]:
    return {"value": value, "source": source, "ref": ref}


def _speeds(
    reference_lb: float,
    stall: float,
    flap: float,
    ratio: float,
    glide: float,
    climb_fpm: float,
    climb: float,
    level: float,
    never: float,
    normal: float,
    manoeuvring: float,
    flap_most: float,
) -> dict[str, Any]:
    return {
        "reference_lb": _n(reference_lb, "manual 5.1"),
        "stall_ias": _n(stall, "manual 5.2"),
        "stall_flap_ias": _n(flap, "manual 5.2"),
        "glide_ratio": _n(ratio, "manual 5.7"),
        "glide_ias": _n(glide, "manual 5.7"),
        "climb_fpm": _n(climb_fpm, "manual 5.5"),
        "climb_ias": _n(climb, "manual 5.5"),
        "level_ias": _n(level, "full throttle, sea level", "measured here"),
        "never_exceed_ias": _n(never, "placard on the panel", "placard"),
        "normal_most_ias": _n(normal, "manual 2.2"),
        "manoeuvring_ias": _n(manoeuvring, "manual 2.2"),
        "flap_most_ias": _n(flap_most, "manual 2.2"),
    }


def _limits(most: float, least: float, rolling: float, flap: float) -> dict[str, Any]:
    return {
        "most_g": _n(most, "manual 2.9"),
        "least_g": _n(least, "manual 2.9"),
        "rolling_g": _n(rolling, "manual 2.9"),
        "flap_g": _n(flap, "manual 2.9"),
    }


# What the manuals of these aircraft approve without an entry speed of their own.
COORDINATION = ("bank_reversals", "slow_flight", "adverse_yaw", "full_rudder_slip")
STALLS = (
    "stall_power_off",
    "stall_power_on",
    "stall_turning",
    "stall_skidded",
    "stall_slipping",
    "stall_accelerated",
    "stall_secondary",
)
SPINS = ("incipient_spin", "spin", "spin_off_turn")
MORE_SPINS = (
    "spin_accelerated",
    "spin_flat",
    "spin_in_aileron",
    "spin_out_aileron",
    "spin_inverted",
    "spin_off_half_loop",
)


def _handbook(**speeds: float) -> dict[str, Any]:
    """Approved figures with the entry speed that the manual gives."""
    return {key: _n(speed, "manual 4.12") for key, speed in speeds.items()}


SELKIE: dict[str, Any] = {
    "name": "Selkie 160",
    "category": "aerobatic",
    "speed_unit": "kt",
    "balance": {
        "empty_lb": _n(1130, "weighing of March", "measured here"),
        "empty_arm_in": _n(47.2, "weighing of March", "measured here"),
        "most_lb": _n(1780, "manual 2.6"),
        "aerobatic_most_lb": _n(1680, "manual 2.6"),
        "aerobatic_forward_in": _n(45.0, "manual 6.3"),
        "aerobatic_aft_in": _n(53.0, "manual 6.3"),
        "seats": [
            {"name": "Left", "arm_in": 54.0, "most_lb": 260},
            {"name": "Right", "arm_in": 54.0, "most_lb": 260},
        ],
        "baggage": {"name": "Shelf", "arm_in": 76.0, "most_lb": 40},
        "tanks": [{"name": "Centre", "arm_in": 44.0, "usable_usgal": 26, "feeds_aerobatics": True}],
        "aerobatic_burn_usgal_h": _n(9.5, "fuel log, last 40 h", "measured here"),
    },
    "speeds": _speeds(1650, 52, 47, 9.5, 68, 900, 70, 125, 172, 132, 126, 95),
    "limits": _limits(6, -3, 4, 2),
    "roll": {
        "left_deg_s": _n(95, "timed, four rolls", "measured here"),
        "right_deg_s": _n(88, "timed, four rolls", "measured here"),
        "at_ias": _n(110, "timed, four rolls", "measured here"),
    },
    "spin": {
        "approved": True,
        "ref": "manual 3.6 and 4.14",
        "most_lb": _n(1660, "manual 2.6"),
        "at_ft": _n(5500, "school trials", "measured here"),
        "one_turn_ft": _n(520, "manual 4.14"),
        "further_turn_ft": _n(215, "manual 4.14"),
        "turn_s": _n(1.8, "school trials", "measured here"),
        "recovery_turns": _n(0.4, "manual 4.14"),
        "path_down_deg": _n(69, "school trials", "measured here"),
        "left_factor": _n(1.06, "school trials", "measured here"),
        "recovery": [
            "Throttle closed.",
            "Ailerons neutral.",
            "Full rudder against the spin.",
            "Stick briskly forward of neutral; hold until the rotation stops.",
            "Rudder to the middle.",
            "Ease out of the dive.",
        ],
    },
    "leaving": [
        "Canopy: both red handles up and forward, and push; it lifts at the front.",
        "Head down until it is gone.",
        "Harness: turn the buckle a quarter and strike it.",
        "Out over the trailing edge of your own side.",
    ],
    "approved": {
        **_handbook(
            steep_turn=108,
            loop=135,
            half_loop_roll_out=150,
            half_cuban=140,
            stall_turn=130,
            aileron_roll=112,
            barrel_roll=120,
            slow_roll=118,
            wing_over=110,
            quarter_clover=138,
            reverse_half_cuban=135,
        ),
        **dict.fromkeys(
            (
                *COORDINATION,
                *STALLS,
                *SPINS,
                "spiral_dive",
                "zoom_push_over",
                "nose_high",
                "over_banked",
                "inverted",
                "vertical_no_speed",
            )
        ),
        "nose_low": _n(100, "school syllabus", "school"),
    },
}

BROCHAN: dict[str, Any] = {
    "name": "Brochan 115",
    "category": "utility",
    "speed_unit": "kt",
    "balance": {
        "empty_lb": _n(1190, "weighing of May", "measured here"),
        "empty_arm_in": _n(38.4, "weighing of May", "measured here"),
        "most_lb": _n(1780, "manual 2.6"),
        "aerobatic_most_lb": _n(1670, "manual 2.6, utility category"),
        "aerobatic_forward_in": _n(36.0, "manual 6.3"),
        "aerobatic_aft_in": _n(42.5, "manual 6.3"),
        "seats": [
            {"name": "Left", "arm_in": 39.0, "most_lb": 250},
            {"name": "Right", "arm_in": 39.0, "most_lb": 250},
        ],
        "baggage": {"name": "Locker", "arm_in": 63.0, "most_lb": 80},
        "tanks": [{"name": "Wings", "arm_in": 42.0, "usable_usgal": 24, "feeds_aerobatics": True}],
        "aerobatic_burn_usgal_h": _n(7.0, "fuel log, last 60 h", "measured here"),
    },
    "speeds": _speeds(1670, 48, 42, 9.0, 63, 640, 67, 108, 149, 111, 100, 85),
    "limits": _limits(4.4, -1.76, 2.9, 2),
    "roll": {
        "left_deg_s": _n(55, "timed", "measured here"),
        "right_deg_s": _n(52, "timed", "measured here"),
        "at_ias": _n(95, "timed", "measured here"),
    },
    "spin": None,
    "approved": {**_handbook(steep_turn=95), **dict.fromkeys((*COORDINATION, *STALLS, "spiral_dive"))},
}

CORRIE: dict[str, Any] = {
    "name": "Corrie 300",
    "category": "aerobatic",
    "speed_unit": "kt",
    "balance": {
        "empty_lb": _n(1720, "weighing of January", "measured here"),
        "empty_arm_in": _n(61.0, "weighing of January", "measured here"),
        "most_lb": _n(2500, "manual 2.6"),
        "aerobatic_most_lb": _n(2420, "manual 2.6"),
        "aerobatic_forward_in": _n(59.0, "manual 6.3"),
        "aerobatic_aft_in": _n(70.0, "manual 6.3"),
        "seats": [
            {"name": "Front", "arm_in": 62.0, "most_lb": 260},
            {"name": "Rear", "arm_in": 96.0, "most_lb": 260},
        ],
        "baggage": {"name": "Turtledeck", "arm_in": 120.0, "most_lb": 20},
        "tanks": [
            {"name": "Aerobatic", "arm_in": 46.0, "usable_usgal": 16, "feeds_aerobatics": True},
            {"name": "Wings", "arm_in": 66.0, "usable_usgal": 36, "feeds_aerobatics": False},
        ],
        "aerobatic_burn_usgal_h": _n(18.0, "fuel log, last 25 h", "measured here"),
    },
    "speeds": _speeds(2400, 60, 54, 10.0, 85, 1900, 92, 180, 238, 168, 147, 110),
    "limits": _limits(6, -4, 4, 2),
    "roll": {
        "left_deg_s": _n(170, "timed, four rolls", "measured here"),
        "right_deg_s": _n(165, "timed, four rolls", "measured here"),
        "at_ias": _n(140, "timed, four rolls", "measured here"),
    },
    "spin": {
        "approved": True,
        "ref": "manual 3.9",
        "most_lb": _n(2420, "manual 2.6"),
        "at_ft": _n(6000, "school trials", "measured here"),
        "one_turn_ft": _n(880, "school trials", "measured here"),
        "further_turn_ft": _n(345, "school trials", "measured here"),
        "turn_s": _n(2.5, "school trials", "measured here"),
        "recovery_turns": _n(0.4, "manual 3.9"),
        "path_down_deg": _n(70, "school trials", "measured here"),
        "left_factor": _n(1.08, "school trials", "measured here"),
        "recovery": [],
    },
    "leaving": [
        "Rear seat first: the front canopy opens last.",
        "Canopy: red lever back, then push it to the right.",
        "Harness: lift the lever of the lap buckle; the shoulders fall free.",
        "Stand on the seat, then over the side, behind the wing.",
    ],
    "thrust": "constant speed",
    "approved": {
        **_handbook(
            steep_turn=140,
            loop=150,
            half_loop_roll_out=168,
            half_cuban=155,
            cuban_eight=160,
            stall_turn=150,
            aileron_roll=130,
            barrel_roll=138,
            slow_roll=135,
            four_point_roll=138,
            flick_roll=100,
            wing_over=125,
            quarter_clover=155,
            cloverleaf=158,
            reverse_half_cuban=150,
            split_s=95,
        ),
        **dict.fromkeys(
            (
                *COORDINATION,
                *STALLS,
                *SPINS,
                *MORE_SPINS,
                "spiral_dive",
                "zoom_push_over",
                "falling_leaf",
                "stall_top_of_loop",
                "stall_barrel",
                "nose_high",
                "over_banked",
                "inverted",
                "vertical_no_speed",
                "tumble",
            )
        ),
        "nose_low": _n(130, "school syllabus", "school"),
    },
}

FLEET = (("QX-ROE", SELKIE, 64), ("QX-BRO", BROCHAN, 120), ("QX-COR", CORRIE, 171))
PLACES: tuple[dict[str, Any], ...] = (
    {
        "name": "Skarra Sound block",
        "elevation_ft": 10,
        "block_top_ft": 6500,
        "airspace_top_ft": 9500,
        "latitude_deg": 58.02,
        "longitude_deg": -9.41,
        "station": "XSKA",
        "station_elevation_ft": 18,
        "radius_nm": 3.5,
        "line_name": "west shore of the sound",
        "line_deg": 215,
        "sea_deg": 125,
        "sea_width_nm": 1.1,
        "fields": [
            {
                "name": "Torravoe machair",
                "bearing_deg": 150,
                "distance_nm": 1.6,
                "heading_deg": 240,
                "length_ft": 1900,
            },
            {
                "name": "Skarra airfield",
                "bearing_deg": 60,
                "distance_nm": 2.9,
                "heading_deg": 250,
                "length_ft": 3300,
            },
            {
                "name": "Geirsa sands",
                "bearing_deg": 290,
                "distance_nm": 2.2,
                "heading_deg": 200,
                "length_ft": 2600,
            },
        ],
        "notes": (
            "Over the sound, into wind along the west shore. Machair strip at Torravoe for a forced landing."
        ),
    },
    {
        "name": "Braeholm Moor block",
        "elevation_ft": 1240,
        "block_top_ft": 6500,
        "latitude_deg": 58.11,
        "longitude_deg": -9.18,
        "station": "XBRA",
        "station_elevation_ft": 1180,
        "radius_nm": 2.5,
        "line_name": "peat road",
        "line_deg": 50,
        "fields": [
            {
                "name": "Moor common",
                "bearing_deg": 210,
                "distance_nm": 1.9,
                "heading_deg": 50,
                "length_ft": 1500,
            }
        ],
        "notes": "Peat road runs 050. Few fields. Turbulent in a westerly above 25 kt.",
    },
)
