"""Plan, evidence and time become one ordered list of steps, each with its state."""
