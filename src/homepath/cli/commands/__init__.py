"""One thin module a command: parses, calls its station, shows."""
