"""The machine-readable contracts as plain JSON values: one module each, for each a schema in docs/schemas/.

Names absolute with the final dot, TTLs in seconds, times RFC 3339 in UTC.
"""
