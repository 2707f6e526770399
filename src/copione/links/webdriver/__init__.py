"""Devices behind a W3C WebDriver remote end."""
