"""The lanes: devices as rows, steps as columns."""
