"""The phone as a pinhole camera: projection, pose from landmarks, and how well a view can measure."""
