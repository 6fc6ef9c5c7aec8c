"""Reusable parts of the desk; none knows a view."""
