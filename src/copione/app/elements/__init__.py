"""The page of the elements that the scripts know."""
