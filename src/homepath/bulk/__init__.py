"""Many domains: a list, one check at each that is due, and a state that remembers all of them."""
