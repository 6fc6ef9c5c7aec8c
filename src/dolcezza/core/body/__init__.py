"""Body and hand as points in the picture, and how bodies are proportioned."""
