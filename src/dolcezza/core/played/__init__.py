"""What was played against what is printed, note by note."""
