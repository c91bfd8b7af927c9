"""Programs damaged at random: bytes lost, lines swapped, words and expressions thrown in."""

import random

_THROWN = (
    b"#", b"[", b"]", b"(", b")", b";", b"G", b"M98P1", b"O1 SUB", b"O1 CALL", b"GOTO 10", b"WHILE [1] DO1", b"END1",
    b"G20", b"G91", b"X1e9", b"--", b"#1=#1", b"[1/0]", b"O1 WHILE [1 GT 0]", b"O1 ENDWHILE", b"\xff", b"M99",
    b"IF [#1 EQ 0] GOTO 20", b"G2 X0 Y0 I0 J0", b"R-1", b"G53", b"G28", b"#[#[1]]", b"SQRT[-1]", b"9" * 400, b"G41",
    b"O2 IF [1]", b"O2 ELSE", b"O3 REPEAT [99999999]", b"O3 ENDREPEAT", b"M3", b"M5", b"F0", b"F-5", b"Z-9",
)  # fmt: skip


def damaged(rng: random.Random, program: bytes) -> bytes:
    """One to twelve things done to it."""
    lines = program.split(b"\n")
    for _ in range(rng.randint(1, 12)):
        n = rng.randrange(len(lines))
        line = lines[n]
        how = rng.randrange(7)
        if how == 0:
            del lines[n : n + rng.randint(1, 5)]
            lines = lines or [b""]
        elif how == 1:
            lines.insert(n, lines[rng.randrange(len(lines))])
        elif how == 2 and line:
            k = rng.randrange(len(line))
            lines[n] = line[:k] + bytes([rng.randrange(256)]) + line[k + rng.randint(0, 2) :]
        elif how == 3:
            k = rng.randint(0, len(line))
            lines[n] = line[:k] + rng.choice(_THROWN) + line[k:]
        elif how == 4:
            lines.insert(n, rng.choice(_THROWN))
        elif how == 5 and line:
            lines[n] = line[: rng.randrange(len(line))]
        else:
            k = rng.randrange(len(lines))
            lines[n], lines[k] = lines[k], lines[n]
    return b"\n".join(lines)
