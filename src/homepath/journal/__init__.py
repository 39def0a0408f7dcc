"""Memory beside the site file: every look and every change."""
