"""A student's way: faults over time, standards reached."""
