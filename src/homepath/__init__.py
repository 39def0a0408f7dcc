"""Home Path: connect a registered domain to a hosted site builder, one calm step at a time."""

__version__ = "0.1.0"
