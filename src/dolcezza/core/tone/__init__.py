"""Sound and bow together: weight against speed, how strokes start, whose noise it is."""
