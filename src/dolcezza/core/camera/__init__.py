"""The phone as a pinhole camera: projection, pose from pins, and how well a view can measure."""
