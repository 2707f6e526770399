"""Pages made of other people's components, each with a log of every handler that was called."""
