"""Brief and site file become the records wanted."""
