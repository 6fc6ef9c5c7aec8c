"""What was to be played, and what was played instead."""
