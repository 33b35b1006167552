"""What the school keeps: its standards, and the places it flies over."""
