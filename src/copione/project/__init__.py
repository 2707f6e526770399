"""The project folder: scripts with their portraits, data, recordings and the archive of runs."""
