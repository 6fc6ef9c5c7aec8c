"""How the desk looks: colours, type, style sheet, icons."""
