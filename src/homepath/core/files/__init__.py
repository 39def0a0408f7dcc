"""Text to model and back: files people write, zones they export, sheets they type from."""
