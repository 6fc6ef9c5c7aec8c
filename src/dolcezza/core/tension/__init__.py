"""Signs of tension: each computed, shown and named on its own."""
