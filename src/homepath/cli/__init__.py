"""The terminal: one thin module a command, `show/` turns values into text."""
