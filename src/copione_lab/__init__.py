"""The lab: stand-in phones that behave like phones at the wire."""
