"""One module per station of the path: brings the core, the network and the journal together. Prints nothing.

This is the Python API; each function returns values of `homepath.core.model`.
"""
