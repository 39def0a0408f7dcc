"""One look each: what to ask, what comes back, what to keep. Generators; stations drive them over the network."""
