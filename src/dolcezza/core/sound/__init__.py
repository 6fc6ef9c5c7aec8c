"""What the take's sound tells: the pitch, and from it which string it can be. Knows no picture."""
