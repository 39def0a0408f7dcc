"""What visitors will meet, minute by minute, before anything is changed."""
