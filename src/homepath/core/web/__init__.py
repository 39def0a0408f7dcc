"""Hops, certificates and pages become verdicts."""
