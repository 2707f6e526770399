"""Benchmarks: ratios measured in one run, run by hand."""
