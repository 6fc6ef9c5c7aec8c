"""Printed music: notes with their bows, read from open files, made as scales, engraved."""
