"""The loupe: one step side by side on the devices."""
