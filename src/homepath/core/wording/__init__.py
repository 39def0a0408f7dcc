"""Every sentence that people read, made of values."""
