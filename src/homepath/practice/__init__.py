"""A small imitation of the world on 127.0.0.1: nameservers, caches, a builder, a forwarder, one fast clock."""
