"""Open formats in and out: design and netlist JSON, CSV tables, SVG drawings."""
