"""The one current student, take, moment, stroke and finding. Views meet only here."""

from __future__ import annotations

from PySide6.QtCore import QObject, Signal

from dolcezza.core.strokes.figures import Stroke
from dolcezza.storage.records import StoredAnalysis, Student, Take


class Selection(QObject):
    """Current things and signals when they change. ``moment_changed`` carries seconds, ``stroke_changed`` a stroke or None."""

    student_changed = Signal(object)
    take_changed = Signal(object)
    analysis_changed = Signal(object)
    moment_changed = Signal(float)
    stroke_changed = Signal(object)
    finding_changed = Signal(object)

    def __init__(self, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self.student: Student | None = None
        self.take: Take | None = None
        self.analysis: StoredAnalysis | None = None
        self.moment_s = 0.0
        self.stroke: Stroke | None = None
        self.finding: int | None = None

    def set_student(self, student: Student | None) -> None:
        """Another student is meant."""
        self.student = student
        self.student_changed.emit(student)

    def set_take(self, take: Take | None, analysis: StoredAnalysis | None) -> None:
        """Another take is open."""
        self.take, self.stroke, self.finding, self.moment_s = take, None, None, 0.0
        self.take_changed.emit(take)
        self.set_analysis(analysis)

    def set_analysis(self, analysis: StoredAnalysis | None) -> None:
        """The take has been measured (again), or has not."""
        self.analysis = analysis
        self.analysis_changed.emit(analysis)

    def go_to(self, seconds: float) -> None:
        """Show this moment."""
        self.moment_s = float(seconds)
        self.moment_changed.emit(self.moment_s)
        stroke = self.stroke_at(seconds)
        if stroke is not self.stroke:
            self.stroke = stroke
            self.stroke_changed.emit(stroke)

    def stroke_at(self, seconds: float) -> Stroke | None:
        """The stroke that is played at this moment."""
        if self.analysis is None:
            return None
        return next((s for s in self.analysis.strokes if s.start_s <= seconds < s.end_s), None)

    def stroke_span(self) -> tuple[float, float] | None:
        """Start and end (s) of the stroke shown, None between strokes."""
        return None if self.stroke is None else (self.stroke.start_s, self.stroke.end_s)

    def step_stroke(self, by: int) -> None:
        """Go to the beginning of the next (+1) or previous (-1) stroke."""
        if self.analysis is None or not self.analysis.strokes:
            return
        starts = [s.start_s for s in self.analysis.strokes]
        if by > 0:
            later = [t for t in starts if t > self.moment_s + 1e-3]
            self.go_to(later[0] if later else starts[-1])
        else:
            earlier = [t for t in starts if t < self.moment_s - 0.05]
            self.go_to(earlier[-1] if earlier else starts[0])

    def choose_finding(self, place: int | None) -> None:
        """Choose a finding of the analysis (its place in the list)."""
        self.finding = place
        self.finding_changed.emit(place)
