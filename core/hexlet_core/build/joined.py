"""Pieces of metal that become one as they are joined."""

from __future__ import annotations

Metal = tuple[str | int, ...]


class Pieces:
    """A union-find."""

    def __init__(self) -> None:
        self._up: dict[Metal, Metal] = {}

    def find(self, a: Metal) -> Metal:
        """The piece that something belongs to."""
        root = a
        while (up := self._up.get(root, root)) != root:
            root = up
        self._up[a] = root
        return root

    def join(self, a: Metal, b: Metal) -> bool:
        """Make one piece of two; False where they are one already."""
        a, b = self.find(a), self.find(b)
        self._up[a] = b
        return a != b
