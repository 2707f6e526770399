"""A small widget toolkit: a declared tree of nodes, laid out in dp, painted with Pillow, touched by raw pointers."""
