"""Windows of their own over the desk: a student, preferences, the keys, two strokes side by side, the lesson view."""
