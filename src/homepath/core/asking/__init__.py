"""What to ask next: walks through DNS as generators that yield questions and take answers."""
