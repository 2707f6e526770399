"""Plain frozen values that everyone shares. Lengths in dp, times in seconds, fractions 0..1."""
