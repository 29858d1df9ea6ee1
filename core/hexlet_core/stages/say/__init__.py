"""How a block says what it finds: checks, windows, wording."""
