"""The measurement itself: one take in, a record with strokes and findings out. The stages stand in ARCHITECTURE.md."""
