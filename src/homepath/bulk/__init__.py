"""Many domains: a list, one look at each that is due, and a state that remembers all of them."""
