"""``./run client``, in part: what Trouble knows, as a table in docs/trouble.md, from the core's own data."""

from pathlib import Path

from orthotome.core.trouble import causes, complaints
from orthotome.core.trouble.questions import COST, QUESTIONS, Answer

FILE = Path(__file__).parents[1] / "docs" / "trouble.md"


def table_of_knowledge() -> str:
    """The document."""
    lines = [
        "# What Trouble knows",
        "",
        "Made from `core/trouble` by `./run client`; change it there. Weights and likelihoods are assumptions from the trade's symptoms,",
        "not measurements: what counts is which of two causes an answer speaks for, and about how strongly.",
        "",
        "## Complaints, and the weight of each cause before anything is asked",
        "",
        "| complaint | causes |",
        "|---|---|",
    ]
    for complaint, facts in complaints.FACTS.items():
        named = ", ".join(f"{c} {w:g}" for c, w in sorted(facts.causes.items(), key=lambda x: -x[1]))
        lines.append(f"| {facts.words} (`{complaint}`) | {named} |")
    lines += [
        "",
        "## Questions",
        "",
        "| question | effort | answers, and what makes them likely |",
        "|---|---|---|",
    ]
    for code, question in QUESTIONS.items():
        told = "; ".join(_answer(code, a) for a in question.answers)
        lines.append(
            f"| {question.words} (`{code}`) | {question.effort}, {COST[question.effort]:g} | {told} |"
        )
    lines += [
        "",
        "## Causes",
        "",
        "| cause | why | how to prove it | how to put it right |",
        "|---|---|---|---|",
    ]
    for cause, known in causes.FACTS.items():
        lines.append(f"| {known.title} (`{cause}`) | {known.why} | {known.check} | {known.fix} |")
    return "\n".join(lines) + "\n"


def _answer(code: str, answer: Answer) -> str:
    """An answer with the causes under which it is at least half as likely again as usual."""
    question = QUESTIONS[code]
    usual = question.base[answer]
    for_it = [
        f"{c} {p:.2f}" for c in question.given if (p := question.chances(c)[answer]) >= 1.5 * usual
    ]
    said = {True: "yes", False: "no"}.get(answer, str(answer)) if isinstance(answer, bool) else answer
    return f"{said} ({usual:.2f} usually): {', '.join(for_it) or 'none'}"


if __name__ == "__main__":
    FILE.write_text(table_of_knowledge())
