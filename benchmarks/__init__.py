"""Benchmarks behind `hollow-marble bench`: each beside a peer or a limit in the same run."""
