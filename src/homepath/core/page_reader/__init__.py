"""Text pasted from a builder's page becomes records: tables, forms, sentences, zone-file lines."""
