"""What the lab looks like from outside."""
