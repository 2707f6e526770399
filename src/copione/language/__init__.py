"""The script language: one step a line, verb first. Grammar, parser, printer, problems. No I/O."""

from . import specs as specs  # registers what the language comes with
