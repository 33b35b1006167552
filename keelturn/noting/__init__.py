"""What is noted in the air and after landing: entries, and the attempts that they add up to."""
