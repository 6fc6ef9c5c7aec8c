"""Dolcezza measures a string player's bowing from a phone video, stroke by stroke."""

__version__ = "0.1.0"
