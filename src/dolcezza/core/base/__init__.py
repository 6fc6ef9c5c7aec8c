"""What every other room of the core stands on: errors, units, geometry, signals, progress."""
