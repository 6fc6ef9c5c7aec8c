"""What leaves the program on paper and in open formats, and its sentences. Knows no database and no window."""
