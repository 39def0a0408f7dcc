"""What each command does, without a terminal: observe over the network, write the journal, assess. Prints nothing.

This is the Python API; each function returns values of `homepath.core.model`.
"""
