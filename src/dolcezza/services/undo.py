"""Undo: one gesture, one step. A command is pushed only after it has worked."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import count

_ORDER = count(1)


@dataclass(frozen=True)
class Step:
    """Something done: its words for the menu, how to take it back and how to do it again."""

    label: str
    undo: Callable[[], None]
    redo: Callable[[], None]


class UndoStack:
    """What was done, in order. ``changed`` is called after every change of the stack."""

    def __init__(self, limit: int = 200) -> None:
        self._done: list[Step] = []
        self._undone: list[Step] = []
        self._done_at: list[int] = []
        self._undone_at: list[int] = []
        self._limit = limit
        self.changed: Callable[[], None] = lambda: None

    @property
    def undo_label(self) -> str:
        """Words of the step that undo would take back, or ""."""
        return self._done[-1].label if self._done else ""

    @property
    def redo_label(self) -> str:
        """Words of the step that redo would do again, or ""."""
        return self._undone[-1].label if self._undone else ""

    @property
    def last_done(self) -> int:
        """When the step that undo would take back was done, in the order of all steps of the program; 0 = there is none."""
        return self._done_at[-1] if self._done_at else 0

    @property
    def last_undone(self) -> int:
        """When the step that redo would do again was taken back; 0 = there is none."""
        return self._undone_at[-1] if self._undone_at else 0

    def push(self, step: Step) -> None:
        """Remember a step that has just been done."""
        self._done = [*self._done, step][-self._limit :]
        self._done_at = [*self._done_at, next(_ORDER)][-self._limit :]
        self._undone.clear()
        self._undone_at.clear()
        self.changed()

    def did(self, words: str, back: Callable[[], object], again: Callable[[], object]) -> None:
        """Remember what has just been done, by how it is taken back and done again; what these return does not matter."""
        self.push(Step(words, lambda: (back(), None)[1], lambda: (again(), None)[1]))

    def undo(self) -> bool:
        """Take the last step back; False when there is none. A step that raises stays where it was."""
        if not self._done:
            return False
        self._done[-1].undo()
        self._undone.append(self._done.pop())
        self._done_at.pop()
        self._undone_at.append(next(_ORDER))
        self.changed()
        return True

    def redo(self) -> bool:
        """Do the last taken back step again; False when there is none."""
        if not self._undone:
            return False
        self._undone[-1].redo()
        self._done.append(self._undone.pop())
        self._undone_at.pop()
        self._done_at.append(next(_ORDER))
        self.changed()
        return True

    def clear(self) -> None:
        """Forget everything (another take was opened)."""
        self._done.clear()
        self._undone.clear()
        self._done_at.clear()
        self._undone_at.clear()
        self.changed()


class Together:
    """Several stacks as one: what was done last, on any of them, is taken back first."""

    def __init__(self, stacks: Sequence[UndoStack]) -> None:
        self._stacks = stacks

    @property
    def undo_label(self) -> str:
        """Words of the step that undo would take back, or ""."""
        return self._latest_done.undo_label

    @property
    def redo_label(self) -> str:
        """Words of the step that redo would do again, or ""."""
        return self._latest_undone.redo_label

    @property
    def _latest_done(self) -> UndoStack:
        return max(self._stacks, key=lambda s: s.last_done)

    @property
    def _latest_undone(self) -> UndoStack:
        return max(self._stacks, key=lambda s: s.last_undone)

    def undo(self) -> bool:
        """Take the last step of all back; False when there is none."""
        return self._latest_done.undo()

    def redo(self) -> bool:
        """Do the step again that was taken back last; False when there is none."""
        return self._latest_undone.redo()
