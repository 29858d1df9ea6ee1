"""Designs: the document, its circuit, and what the program has to say about it."""
