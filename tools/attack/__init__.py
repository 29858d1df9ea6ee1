"""Attacks on a running server of one's own: bad inputs, crowds, kills and a disk that gives out.

`python -m tools.attack` runs all of it and prints the figures of docs/reliability.md, with `--short` a
tenth of it.
"""
