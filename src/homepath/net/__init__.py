"""Input and output only: the network file, questions to name servers, updates, web requests."""
