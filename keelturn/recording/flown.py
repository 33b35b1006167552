"""What was flown, as arrays over time: smoothed height, speed and g, sink, attitude, and how fast it rolled
and went round the vertical.

What counts as level flight is common practice, no published source."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.spatial.transform import Rotation

from keelturn.motion.legs import Floats
from keelturn.recording.table import Column, Recording
from keelturn.units import DEG, FT, KT

# Flight is level within these.
BANK_DEG, PITCH_DEG, G_OFF, SINK_FPS = 12.0, (-12.0, 20.0), 0.3, 10.0
# Height, g and speed are means over so long, sink is the slope over so long, and over so many rows at least.
MEAN_S, SLOPE_S, SLOPE_ROWS = 0.5, 1.6, 3
# From row to row it turned the shortest way, but after a silence of more than this, or at a rate of rows at
# which a spin goes half round between two of them.
SHORTEST_S = 0.25


@dataclass(frozen=True, slots=True)
class Flown:
    """Arrays (R,): time (s), means of height (ft), indicated speed (in what it was recorded in) and g, sink
    (ft/s), attitude (deg; heading as recorded), rates of roll and round the vertical (deg/s, to the right
    positive). nan in all of a column that was not recorded."""

    time: Floats
    height: Floats
    ias: Floats
    g: Floats
    sink: Floats
    pitch: Floats
    bank: Floats
    heading: Floats
    rolling: Floats
    turning: Floats

    @classmethod
    def of(
        cls,
        time: Floats,
        height: Floats,
        ias: Floats,
        g: Floats,
        pitch: Floats,
        bank: Floats,
        heading: Floats,
    ) -> "Flown":
        """As recorded, the time ascending."""
        return cls(
            time,
            mean(time, height),
            mean(time, ias),
            mean(time, g),
            -slope(time, height),
            pitch,
            bank,
            heading,
            *_rates(time, heading, pitch, bank),
        )

    @classmethod
    def of_recording(cls, recording: Recording) -> "Flown":
        """Its height is the one on QNH, or by satellite."""
        absent = np.full(len(recording), np.nan)
        ias, g, pitch, bank, heading = (
            recording.columns.get(column, absent)
            for column in (Column.IAS, Column.G, Column.PITCH, Column.BANK, Column.HEADING)
        )
        return cls.of(recording.time, recording.columns[Column.HEIGHT], ias, g, pitch, bank, heading)

    def level(self) -> NDArray[np.bool_]:
        """What was not recorded says nothing against it."""
        away = (
            (self.pitch <= PITCH_DEG[0])
            | (self.pitch >= PITCH_DEG[1])
            | (np.abs(self.bank) >= BANK_DEG)
            | (np.abs(self.g - 1.0) >= G_OFF)
            | (self.sink >= SINK_FPS)
        )
        return ~away

    @property
    def has_attitude(self) -> bool:
        """Whether it is known how it turned."""
        return bool(np.isfinite(self.turning).all())

    def between(self, first: int, last: int) -> "Flown":
        """Rows first to last, both of them."""
        return Flown(*(getattr(self, name)[first : last + 1] for name in Flown.__slots__))


def through_the_air(flown: Flown, density_ratio: float) -> tuple[Floats, Floats]:
    """East and north (ft) of where the recording begins, arrays (R,): along the nose, as fast as true speed
    and sink leave; the air's own motion is not in it. density_ratio: to standard sea level, at about the
    height flown. For pictures: errors of the air-speed system are not taken out. nan where speed or heading
    was not recorded."""
    true_fps = flown.ias * KT / FT / np.sqrt(density_ratio)
    over_ground = np.sqrt(np.maximum(0.0, true_fps**2 - flown.sink**2))
    steps = np.diff(flown.time)

    def summed(fps: Floats) -> Floats:
        return np.concatenate([[0.0], np.cumsum((fps[1:] + fps[:-1]) / 2.0 * steps)])

    heading = flown.heading * DEG
    return summed(over_ground * np.sin(heading)), summed(over_ground * np.cos(heading))


def mean(time: Floats, values: Floats) -> Floats:
    """Each with what lies within half of MEAN_S of it, before and after."""
    total = np.concatenate([[0.0], np.cumsum(values)])
    first = np.searchsorted(time, time - MEAN_S / 2.0, side="left")
    last = np.searchsorted(time, time + MEAN_S / 2.0, side="right")
    return np.asarray((total[last] - total[first]) / (last - first))


def slope(time: Floats, values: Floats, over_s: float = SLOPE_S) -> Floats:
    """Of the straight line through what lies within half of over_s of each, or through its neighbours."""
    rows = np.arange(len(time))
    beside = SLOPE_ROWS // 2
    first = np.minimum(np.searchsorted(time, time - over_s / 2.0, side="left"), np.maximum(0, rows - beside))
    last = np.maximum(
        np.searchsorted(time, time + over_s / 2.0, side="right"), np.minimum(len(time), rows + beside + 1)
    )
    number = last - first

    def sums(of: Floats) -> Floats:
        total = np.concatenate([[0.0], np.cumsum(of)])
        return np.asarray(total[last] - total[first])

    t, v = time - time[0], values - values[0]
    below = number * sums(t * t) - sums(t) ** 2
    return np.asarray((number * sums(t * v) - sums(t) * sums(v)) / np.where(below > 1e-9, below, np.inf))


def stretches(mask: NDArray[np.bool_]) -> Iterator[tuple[int, int]]:
    """First and last row of each run of true ones."""
    edges = np.flatnonzero(np.diff(mask.astype(np.int8), prepend=0, append=0))
    yield from zip(edges[::2].tolist(), (edges[1::2] - 1).tolist(), strict=True)


def _rates(time: Floats, heading: Floats, pitch: Floats, bank: Floats) -> tuple[Floats, Floats]:
    """Of roll about the aircraft's own length and of turning round the vertical, in deg/s, from one attitude
    to the next: where the nose passes the vertical nothing of it jumps. Over a silence it turns on as
    before."""
    nothing = np.full(len(time), np.nan)
    if not all(np.isfinite(angle).all() for angle in (pitch, bank, heading)):
        return nothing, nothing
    if len(time) < 2:
        return np.zeros(len(time)), np.zeros(len(time))
    attitudes = Rotation.from_euler("ZYX", np.stack([heading, pitch, bank], axis=1), degrees=True)
    world = (attitudes[1:] * attitudes[:-1].inv()).as_rotvec(degrees=True)
    own = (attitudes[:-1].inv() * attitudes[1:]).as_rotvec(degrees=True)
    over = np.diff(time)
    turned, rolled = world[:, 2], own[:, 0] / over
    for at in np.flatnonzero(over > SHORTEST_S):
        foreseen = turned[at - 1] / over[at - 1] * over[at] if at else 0.0
        turned[at] += 360.0 * np.round((foreseen - turned[at]) / 360.0)
    rates = mean(time[1:], rolled), mean(time[1:], turned / over)
    return np.concatenate([[0.0], rates[0]]), np.concatenate([[0.0], rates[1]])


def turned_deg(nose: Floats, head: Floats, right: Floats) -> Floats:
    """All that it went round the vertical since the first row, to the right positive, (R,), from unit vectors
    (R, 3)."""
    three = (nose, head, right)
    about = sum(a[:-1, 0] * a[1:, 1] - a[:-1, 1] * a[1:, 0] for a in three)
    cosine = (sum((a[:-1] * a[1:]).sum(axis=1) for a in three) - 1.0) / 2.0
    angle = np.arccos(np.clip(cosine, -1.0, 1.0))
    # East and north are left-handed on a compass: to the right is negative about up.
    steps = -np.asarray(about) / 2.0 / np.maximum(np.sinc(angle / np.pi), 1e-3)
    return np.concatenate([[0.0], np.cumsum(steps)]) / DEG
