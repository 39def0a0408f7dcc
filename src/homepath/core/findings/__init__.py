"""Every finding there is: its code, level, standard and page, each written once."""
