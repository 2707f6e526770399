"""The bench: what is connected, drawn to scale."""
