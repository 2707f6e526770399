"""A take: steps into acts and checks on one device. A run: many takes."""
