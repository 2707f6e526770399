"""The interface (PySide6). Widgets receive a model and subscribe; nothing is computed here."""
