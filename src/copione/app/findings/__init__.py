"""The findings: explained differences as sentences."""
