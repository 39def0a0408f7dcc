"""Many domains: a list, a check of each domain that is due, and a state that remembers all of them."""
