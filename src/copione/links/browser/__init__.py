"""Browsers as devices: an engine with its driver, started for each of them, and a page as a screen."""
