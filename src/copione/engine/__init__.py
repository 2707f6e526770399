"""Use cases: what a person or a program can ask of Copione. Values in, values out; nothing is printed or shown here."""
