"""Following the instrument and the bow through the take, in pixels. Knows nothing of angles and strokes."""
