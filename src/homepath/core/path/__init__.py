"""Everything seen of a domain becomes its place on the path."""
