"""What was flown against what was planned."""
