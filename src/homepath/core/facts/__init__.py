"""What a zone shows, without judging: purposes, permissions, slips of typing."""
