"""From finding to correction, drill, plan and record."""
