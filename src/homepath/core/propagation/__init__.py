"""Readings become verdicts and deadlines."""
