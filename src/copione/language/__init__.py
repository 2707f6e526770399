"""The script language: one step a line, verb first. Grammar, parser, printer, problems. No I/O."""
