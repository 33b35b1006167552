"""The aircraft card and what follows from it: loading, limits, drag, power, roll."""
