"""A run for others: a self-contained HTML page, JUnit XML."""
