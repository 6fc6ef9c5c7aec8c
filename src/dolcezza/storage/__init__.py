"""The only room that knows SQL, the studio folder and file formats. Knows no window and no measuring."""
