"""A live session: moments and gestures into steps."""
