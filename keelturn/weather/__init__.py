"""The day as reported: a coded report read into plain numbers, wind between heights, and the sun."""
