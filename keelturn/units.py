"""The only place where feet, knots, miles an hour and g meet SI.

Factors are exact by definition (international yard and pound agreement 1959; international nautical mile
1929; standard gravity, CGPM 1901)."""

import math
from typing import Literal

FT = 0.3048
NM = 1852.0
KT = NM / 3600.0
SM = 1609.344
MPH = SM / 3600.0
FPM = FT / 60.0
LB = 0.45359237
G0 = 9.80665
HPA = 100.0
ZERO_C = 273.15
DEG = math.pi / 180.0

SpeedUnit = Literal["kt", "mph"]
SPEED = {"kt": KT, "mph": MPH}
