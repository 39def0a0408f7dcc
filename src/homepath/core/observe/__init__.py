"""Each check: what to ask, what comes back, what to keep. Generators; `app` drives them over the network."""
