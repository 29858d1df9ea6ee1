"""Building: the ordered steps from bare board to a powered, checked circuit."""
