"""The version of Home Path, where everything can read it."""

__version__ = "0.1.0"
