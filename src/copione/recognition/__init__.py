"""Portraits and sightings: how a target is known again. No I/O."""
