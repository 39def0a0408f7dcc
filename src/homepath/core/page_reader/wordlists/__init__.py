"""The words of builders' and DNS hosts' pages in many languages. Data: each table is one kind of word."""
