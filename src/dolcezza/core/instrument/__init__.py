"""Instruments and bows as the measuring needs them: sizes, strings, landmarks, outline. Knows no picture."""
