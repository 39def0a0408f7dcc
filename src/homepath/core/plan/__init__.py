"""Wanted, present and findings become a plan: changes and ordered steps."""
