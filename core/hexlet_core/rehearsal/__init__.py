"""Rehearsals: a design run in time under a script of events."""
