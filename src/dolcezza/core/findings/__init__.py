"""From figures to findings: limits from the student's profile, evidence, ±, and what probably causes each."""
