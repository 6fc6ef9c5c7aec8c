"""The computation: arrays and frozen dataclasses in and out. Knows no window, no database, no settings, no clock."""
