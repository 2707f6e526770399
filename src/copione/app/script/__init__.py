"""The script page: strip, text, frame and portrait of the same step."""
