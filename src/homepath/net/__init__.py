"""Input and output only: the network file, questions to nameservers, updates, web requests."""
