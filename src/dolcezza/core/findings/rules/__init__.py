"""One file a group of rules: bow, arm, use of the bow, set-up. A rule turns figures into findings; the catalogue holds what is said."""
