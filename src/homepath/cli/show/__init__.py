"""Values become text for a terminal."""
