"""DNS as values: names, records, answers, and what servers say together."""
