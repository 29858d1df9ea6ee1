"""Circuits: netlist, device equations, operating point, transient, waveforms.

Everything here is plain Python and numpy. `engine` compiles it, and alone imports numba, so that importing
the rest stays quick and every compiled function has its uncompiled twin for tests.
"""
