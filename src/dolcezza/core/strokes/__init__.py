"""Strokes: where each begins and ends, its figures, and the shape of its crookedness."""
