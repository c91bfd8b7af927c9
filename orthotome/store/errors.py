"""What the store refuses, in the operator's words."""


class StoreError(Exception):
    """Something asked of the records that cannot be done; ``sentence`` says what and why."""

    def __init__(self, sentence: str, field: str = "") -> None:
        super().__init__(sentence)
        self.sentence = sentence
        self.field = field


class NotFound(StoreError):  # noqa: N818 (named as an operator would say it)
    """There is no such record."""


class Refused(StoreError):  # noqa: N818
    """The record does not allow that now."""


class ChangedMeanwhile(StoreError):  # noqa: N818
    """Somebody else changed the record after it was read; nothing was overwritten."""


class StartFault(Exception):  # noqa: N818
    """Why the records cannot be opened, in one sentence with what to do about it."""


class TooManyTries(StoreError):  # noqa: N818
    """Something secret was guessed at too often."""
