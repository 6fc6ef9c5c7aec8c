"""The only threads of the program: long work, and frames for the picture."""
