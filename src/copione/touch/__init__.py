"""Contacts into gestures, and gestures into contacts. No I/O."""
