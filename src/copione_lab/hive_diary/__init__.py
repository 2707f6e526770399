"""Hive Diary: the sample app, a beekeeper's inspection diary."""

from .app import HiveDiary

__all__ = ["HiveDiary"]
