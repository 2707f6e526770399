"""A second made-up app, of another trade: a potter's book of kiln firings, as a page that any browser opens."""
