"""The recorder: its table, and the stand-in that ships until a real one is plugged in."""
