"""Stage kinds: each knows everything about one piece of circuit. See `contract` for the rules."""
