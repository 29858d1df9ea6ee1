"""Hexlet's core: designs, circuits, verdicts, rehearsals. No interface, no server, no files."""
