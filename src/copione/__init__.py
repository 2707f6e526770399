"""Copione: record touch gestures and checks on one phone, replay them on others, see where they part ways."""

__version__ = "0.1.0"
