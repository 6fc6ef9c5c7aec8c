"""The bow hold from points in a picture of the hand."""
