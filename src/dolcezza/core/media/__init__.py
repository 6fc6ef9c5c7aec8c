"""Video files: what they hold, their frames by true timestamps, their sound. Knows no instrument and no bow."""
