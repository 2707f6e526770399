"""Use cases: what a person or a program can ask of Copione. They take values and return values, and never print or show anything."""
