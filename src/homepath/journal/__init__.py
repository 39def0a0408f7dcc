"""Memory beside the site file: every check and every change."""
