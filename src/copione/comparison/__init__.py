"""Outcomes of a run laid side by side, and explained. No I/O."""
