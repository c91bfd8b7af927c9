"""The one error core raises when the trade's rules cannot be followed with what was given."""


class TradeError(ValueError):
    """Something given is not usable, and the operator can put it right.

    ``field`` names what was wrong in the words of the files (``thickness_mm``), ``sentence`` says
    what was wrong and what would be right. Nothing has been changed when it is raised.
    """

    def __init__(self, field: str, sentence: str) -> None:
        super().__init__(f"{field}: {sentence}")
        self.field = field
        self.sentence = sentence
