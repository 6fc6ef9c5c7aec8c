"""One root error; every kind is one plain sentence and what to do next.

The desk shows the sentence in a strip, the command line prints it and ends with a code other than zero: nobody
meets a traceback.
"""


class DolcezzaError(Exception):
    """Something went wrong that the user can do something about.

    ``sentence`` says what is wrong, ``advice`` what to do next; ``str(error)`` is both.
    """

    def __init__(self, sentence: str, advice: str = "") -> None:
        self.sentence = sentence
        self.advice = advice
        super().__init__(f"{sentence} {advice}".strip())


class MediaError(DolcezzaError):
    """The video file cannot be used."""


class LandmarkError(DolcezzaError):
    """The landmarks do not describe the instrument. ``swap`` tells whether swapping the sides mends them."""

    def __init__(self, sentence: str, advice: str = "", *, swap: bool = False) -> None:
        super().__init__(sentence, advice)
        self.swap = swap


class TrackingError(DolcezzaError):
    """The instrument or the bow could not be followed."""


class InstrumentError(DolcezzaError):
    """No such instrument, or dimensions that cannot be."""


class ModelsMissing(DolcezzaError):
    """The body and hand models, or what runs them, are not installed."""


class StudioError(DolcezzaError):
    """The studio folder cannot be read or written."""


class StudioDamaged(StudioError):
    """The studio's database cannot be trusted; a copy of it may be put back."""


class ExerciseError(DolcezzaError):
    """An exercise that cannot be read or played."""


class PracticeError(DolcezzaError):
    """A drill, a plan or an entry of the log that cannot be."""


UNREADABLE = (KeyError, TypeError, ValueError, OverflowError, AttributeError, RecursionError)
"""What reading data ends in that is not as it was written: a value missing, of another kind, endless or nested without end."""
