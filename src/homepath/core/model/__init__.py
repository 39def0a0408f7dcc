"""The nouns: names, records, zones, the site, the brief, findings, readings, steps."""
