"""Sentences: their words and numbers, what their verbs say of each value, and which record they tell of."""
