"""Wanted and present give findings: one family a module, one small function a rule."""
