"""What a user does, without a window: one file a job, used alike by desk, command line and tests."""
