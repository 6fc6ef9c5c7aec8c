"""The bow arm in space: shoulder, elbow and wrist from the bow, the pose of the instrument and points in the picture."""
