"""From the bow's line in the picture to contact point, bow angle, inclination, string and place on the bow, with ±."""
