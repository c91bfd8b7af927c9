"""The live line of a table: connected, listened to, recorded, and connected again when it breaks.

What comes is kept for a while in memory for the screens, and, from a second before an arc until some seconds after it,
in the records, part by part. ``kept`` counts the samples of the running recording that are on disk: those and no
others are acknowledged.

A line never ends by itself. What a table sends that cannot be read is dropped and counted, what cannot be kept waits and
is tried again, and a mistake of our own is journalled and the line begun anew, after growing pauses.
"""

import asyncio
import contextlib
import sys
from collections import deque
from collections.abc import AsyncIterator, Callable, Sequence
from contextlib import asynccontextmanager
from dataclasses import dataclass, field
from typing import Literal

from orthotome.core.height.phases import Phase, PhaseOf, TooFewVolts, too_few_says
from orthotome.desk.height.live_sample import LiveSample
from orthotome.desk.height.recording import (
    NOT_KEPT,
    Recording,
    Summary,
    end_broken_off,
    why_not_kept,
)
from orthotome.desk.working.journal import journal
from orthotome.formats.height.line import (
    LONGEST_LINE,
    HelloLine,
    RefusedLine,
    SamplesLine,
    StopLine,
    TrimLine,
    read_line,
    readable,
)
from orthotome.formats.reading import FileError
from orthotome.store.database import Database
from orthotome.store.height import lines
from orthotome.store.tables import LineRow

State = Literal["none", "connecting", "listening", "silent", "broken"]

MOST_SAMPLES_PER_S = 2000
FLOOD_PER_S = 40_000
KEPT_IN_MEMORY = 12_000
_SILENT_S = 2.0
_CONNECT_S = 4.0
_WAITS_S = (0.5, 1.0, 2.0, 5.0, 10.0)
_RECKLESS_WAIT_S = 10.0
MOST_WORDS_PER_S = 20  # lines that hold no sample: a table has little to say of itself
_MOST_DROPPED, _MOST_DROPPED_SHARE = (
    200,
    0.1,
)  # of the samples of a connection: beyond both it is no table's line
_RESTING = "The records were put back to a backup while it was recorded; what had come by then is here."


class TooFastError(Exception):
    """More samples, or words, a second than are taken."""


Connection = tuple[asyncio.StreamReader, asyncio.StreamWriter]
Connect = Callable[[], "contextlib.AbstractAsyncContextManager[Connection]"]


@dataclass
class LiveLine:
    """One table's line."""

    database: Database
    table_id: int
    connect: Connect
    simulated: bool = False
    state: State = "connecting"
    says: str = "Connecting to the table."
    hello: HelloLine | None = None
    version: int = 0  # counts what changed of state, recording and summary
    told: int = 0  # samples so far
    recent: deque[LiveSample] = field(default_factory=lambda: deque(maxlen=KEPT_IN_MEMORY))
    recording: Recording | None = None
    summary: Summary | None = None
    refused: str = ""
    doubt: str = ""  # of what its volts are
    dropped: int = 0  # samples that could not be read, since Orthotome first heard of the line
    stops_for: str = "Orthotome was stopped while it recorded."
    _heard: int = 0  # samples of this connection, dropped ones too
    _dropped: int = 0
    _greeted: bool = False
    _cannot_keep: str = ""
    _left_open: bool = False  # a recording that could not be ended in the records
    _words: tuple[float, int] = (0.0, 0)
    _too_few: TooFewVolts = field(default_factory=TooFewVolts)
    _phase: PhaseOf = field(default_factory=PhaseOf)
    _writer: asyncio.StreamWriter | None = None
    _last_at_s: float = -1.0
    _second: tuple[float, int] = (0.0, 0)
    _arrived: tuple[float, int] = (0.0, 0)

    async def run(self) -> None:
        """Listen, and connect again whenever it breaks, until cancelled."""
        tries = 0
        try:
            while True:
                try:
                    async with self.connect() as (reader, writer):
                        self._writer = writer
                        before = self.told
                        await self._listen(reader)
                        tries = 0 if self.told > before else tries
                        self._is(
                            "broken", "The line broke off: the table is gone, or its program ended."
                        )
                except (OSError, TimeoutError):
                    self._is(
                        "broken", "The table does not answer at its address: is it on, and its line?"
                    )
                except (FileError, TooFastError) as bad:
                    self._is("broken", f"What the table sends cannot be used: {bad}")
                    tries = len(_WAITS_S)
                except Exception:
                    journal.exception("the line of table %s: it is begun again", self.table_id)
                    self._is(
                        "broken", "Orthotome made a mistake with this line. It begins again by itself."
                    )
                finally:
                    self._writer = None
                await self._end("The line broke off in mid-cut; what had come by then is here.")
                await self._end_what_was_left_open()
                await asyncio.sleep(_WAITS_S[tries] if tries < len(_WAITS_S) else _RECKLESS_WAIT_S)
                tries += 1
        finally:
            await asyncio.shield(self._end(self.stops_for))

    def _is(self, state: State, says: str = "") -> None:
        if (state, says) != (self.state, self.says):
            self.state, self.says = state, says
            self.version += 1

    async def _listen(self, reader: asyncio.StreamReader) -> None:
        self._last_at_s, self._heard, self._dropped, self._greeted = -1.0, 0, 0, False
        while True:
            await asyncio.sleep(0)  # a table that always has more to say leaves the screens their turn
            try:
                # Not wait_for: it loses a cancellation that comes together with a line (Python 3.11).
                async with asyncio.timeout(_SILENT_S):
                    line = await reader.readline()
            except TimeoutError:
                await self._quiet()
                self._is("silent", self._cannot_keep or "The table is connected and sends nothing.")
                continue
            except ValueError:
                raise FileError(f"a line is longer than {LONGEST_LINE // 1000} kB.") from None
            if not line:
                return
            said = self._read(line)
            if isinstance(said, SamplesLine):
                await self._take(said)
            elif said is not None:
                self._hear(said)

    def _read(self, line: bytes) -> HelloLine | SamplesLine | RefusedLine | None:
        """A line; of one that cannot be read whole what can be, or nothing. Raises FileError where that is too often so, and
        where nobody has said hello yet: it is another program's port."""
        try:
            said = read_line(line)
            self._greeted = self._greeted or isinstance(said, HelloLine)
            return said
        except FileError as wrong:
            if not self._greeted:
                raise
            told, lost = readable(line)
            self._heard += lost
            self._dropped += lost
            self.dropped += lost
            self.version += 1
            if self._dropped > max(_MOST_DROPPED, _MOST_DROPPED_SHARE * self._heard):
                raise FileError(
                    f"{self._dropped} samples could not be read. The last: {wrong}"
                ) from None
            return told

    def _hear(self, said: HelloLine | RefusedLine) -> None:
        """What a table says of itself: it is told to the screens where it is new, and too much of it is refused."""
        clock = asyncio.get_running_loop().time()
        since, count = self._words if clock - self._words[0] <= 1.0 else (clock, 0)
        self._words = since, count + 1
        if count >= MOST_WORDS_PER_S:
            raise TooFastError(f"it says who it is more than {MOST_WORDS_PER_S} times a second.")
        if isinstance(said, HelloLine) and said != self.hello:
            self.hello = said
            self.version += 1
        elif isinstance(said, RefusedLine):
            self.refused = said.why
            self.version += 1

    async def _take(self, said: SamplesLine) -> None:
        self._count(said.at_s)
        if said.at_s[0] < self._last_at_s:
            # Its clock began anew: another recording.
            await self._end("The table’s clock ran backwards: it was started anew.")
        self._last_at_s = said.at_s[-1]
        self._heard += len(said.at_s)
        self._is("listening", self._cannot_keep)
        fresh = [self._sample(said, i) for i in range(len(said.at_s))]
        self.recent.extend(fresh)
        await self._record(fresh)

    def _sample(self, said: SamplesLine, i: int) -> LiveSample:
        def of(column: tuple[float | None, ...] | None) -> float | None:
            return None if column is None else column[i]

        self.told += 1
        volts, feed = said.arc_voltage_v[i], of(said.feed_mm_min)
        phase = self._phase.told(said.at_s[i], volts, feed) if volts is not None else self._phase.phase
        on = None if said.control_on is None else said.control_on[i]
        too_few = volts is not None and self._too_few.told(said.at_s[i], volts, feed)
        self._doubts(phase, too_few)
        return LiveSample(
            self.told, said.at_s[i], volts, of(said.set_point_v), of(said.z_mm), feed, on, phase, too_few
        )

    def _doubts(self, phase: Phase, too_few: bool) -> None:
        doubt = "" if phase != "idle" else self.doubt
        if too_few and not doubt:
            doubt = too_few_says(self._too_few.most_v)
        if doubt != self.doubt:
            self.doubt = doubt
            self.version += 1

    def _count(self, at_s: tuple[float, ...]) -> None:
        """Samples a second are counted by the table's own clock: what was held up on the way comes in a burst, and is
        welcome. By ours only a flood is refused."""
        own, ours = self._second, self._arrived
        if not own[0] <= at_s[-1] <= own[0] + 1.0:
            own = at_s[0], 0
        clock = asyncio.get_running_loop().time()
        if clock - ours[0] > 1.0:
            ours = clock, 0
        self._second, self._arrived = (own[0], own[1] + len(at_s)), (ours[0], ours[1] + len(at_s))
        if self._second[1] > MOST_SAMPLES_PER_S or self._arrived[1] > FLOOD_PER_S:
            raise TooFastError(
                f"more than {MOST_SAMPLES_PER_S:,} samples a second; set it to a few hundred."
            )

    async def _record(self, fresh: list[LiveSample]) -> None:
        if self.recording is None:
            arc = next((s for s in fresh if s.phase != "idle" or s.too_few), None)
            if arc is None:
                return
            lead = [s for s in self.recent if s.n < fresh[0].n and s.at_s > arc.at_s - 1.0]
            self.recording = Recording(
                self.database, self.table_id, self.hello.name if self.hello else ""
            )
            self.recording.begin([s for s in lead if s.at_s <= arc.at_s])
            self.version += 1
        before = self.recording.kept, self.recording.starts
        try:
            await self.recording.take(fresh)
            self._cannot_keep = ""
        except NOT_KEPT as failed:
            await self._not_kept(failed)
            if self.recording is None:
                return
        if before != (self.recording.kept, self.recording.starts):
            self.version += 1
        if self.recording.is_over(fresh[-1].at_s):
            await self._end("")

    async def _not_kept(self, failed: Exception) -> None:
        """What came could not be put on disk: it is said, and tried again; where the recording itself is gone from the
        records, it is over."""
        assert self.recording is not None
        self._cannot_keep = why_not_kept(failed)
        journal.warning("the line of table %s: %s", self.table_id, self._cannot_keep)
        if self.recording.is_gone(failed):
            await self._end("Its records were replaced by others while it ran.")
        self._is(self.state, self._cannot_keep)

    async def _quiet(self) -> None:
        """Nothing comes: what has come is put on disk."""
        if self.recording is None:
            return
        try:
            if await self.recording.keep():
                self.version += 1
            self._cannot_keep = ""
        except NOT_KEPT as failed:
            await self._not_kept(failed)

    async def _end(self, interrupted: str) -> None:
        recording, self.recording = self.recording, None
        if recording is None:
            return
        over = interrupted if recording.burning else ""
        try:
            ended = await recording.end(over)
            await self._end_what_was_left_open()
        except NOT_KEPT as failed:
            journal.warning("the line of table %s: %s", self.table_id, why_not_kept(failed))
            ended, self._left_open = recording.lost(over), True
        self.summary = ended
        self.version += 1

    async def _end_what_was_left_open(self) -> None:
        """End in the records what could not be ended when it was over: what was kept of it counts."""
        if not self._left_open:
            return
        try:
            await asyncio.to_thread(end_broken_off, self.database, self.table_id)
            self._left_open = False
        except NOT_KEPT as failed:
            journal.warning("the line of table %s: %s", self.table_id, why_not_kept(failed))

    async def say(self, line: TrimLine | StopLine | object) -> None:
        """Send a line to the table. Raises OSError where it is not there."""
        if self._writer is None:
            raise OSError
        text = line.model_dump_json() if hasattr(line, "model_dump_json") else "{}"
        self._writer.write(text.encode() + b"\n")
        await asyncio.wait_for(self._writer.drain(), _CONNECT_S)

    def since(self, n: int) -> list[LiveSample]:
        """The samples after the ``n``th that are still in memory."""
        if n >= self.told:
            return []
        missing = self.told - n
        if missing >= len(self.recent):
            return list(self.recent)
        return [self.recent[i] for i in range(len(self.recent) - missing, len(self.recent))]

    def latest(self) -> LiveSample | None:
        """The newest sample."""
        return self.recent[-1] if self.recent else None


AsSimulated = Callable[[int], tuple[int, Sequence[str]]]
"""Of a simulated table by its number: the seed of its hidden truth, and the faults that it has as it is fitted now."""


class Lines:
    """The lines of all tables, each begun when it is first wanted, or at start where a table has an address."""

    def __init__(
        self,
        database: Database,
        as_simulated: AsSimulated = lambda table_id: (table_id, ()),
        *,
        only_simulated: bool = False,
    ) -> None:
        self._database, self._as_simulated = database, as_simulated
        self.only_simulated = only_simulated
        self._lines: dict[int, LiveLine] = {}
        self._tasks: dict[int, asyncio.Task[None]] = {}
        self._awake = asyncio.Event()
        self._awake.set()
        self.stopping = False

    def begin(self) -> None:
        """Listen to every table that has an address."""
        for row in self._known():
            self.of(row)

    def of(self, row: LineRow) -> LiveLine:
        """The running line of a row."""
        found = self._lines.get(row.table_id)
        if found is None:
            simulated = row.simulated or self.only_simulated
            connect = _simulated(row.table_id, self._as_simulated) if simulated else at_address(row)
            found = LiveLine(self._database, row.table_id, connect, row.simulated)
            self._lines[row.table_id] = found
            self._tasks[row.table_id] = asyncio.get_running_loop().create_task(self._run(found))
        return found

    async def _run(self, line: LiveLine) -> None:
        await self._awake.wait()
        await line.run()

    @asynccontextmanager
    async def resting(self) -> AsyncIterator[None]:
        """While the records are put back to a backup: recordings end before it, and lines begin again after it."""
        self._awake.clear()
        for line in self._lines.values():
            line.stops_for = _RESTING
        for table_id in list(self._lines):
            await self.let_go(table_id)
        try:
            yield
        finally:
            await asyncio.to_thread(end_broken_off, self._database)
            self._awake.set()
            for row in await asyncio.to_thread(self._known):
                self.of(row)

    def _known(self) -> Sequence[LineRow]:
        with self._database.read() as session:
            return list(lines.lines(session))

    def running(self, table_id: int) -> LiveLine | None:
        """The line of a table, if it runs."""
        return self._lines.get(table_id)

    async def let_go(self, table_id: int) -> None:
        """Stop listening to a table: its address is another, or none."""
        self._lines.pop(table_id, None)
        task = self._tasks.pop(table_id, None)
        if task is not None:
            task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await task

    async def fitted_anew(self, table_id: int) -> None:
        """Parts were fitted: a simulated table's arc is theirs from its next connection on; a real one knows by itself."""
        line = self._lines.get(table_id)
        if line is not None and line.simulated:
            await self.let_go(table_id)

    async def close(self) -> None:
        """Stop listening to all."""
        self.stopping = True
        for table_id in list(self._lines):
            await self.let_go(table_id)


def at_address(row: LineRow) -> Connect:
    """To a table that listens somewhere."""

    @asynccontextmanager
    async def connect() -> AsyncIterator[Connection]:
        reader, writer = await asyncio.wait_for(
            asyncio.open_connection(row.host, row.port, limit=LONGEST_LINE), _CONNECT_S
        )
        try:
            yield reader, writer
        finally:
            writer.close()

    return connect


def _simulated(table_id: int, as_simulated: AsSimulated) -> Connect:
    """The simulated table, in a process of its own that ends with this one."""

    @asynccontextmanager
    async def connect() -> AsyncIterator[Connection]:
        seed, faults = await asyncio.to_thread(as_simulated, table_id)
        words = ["-m", "orthotome.cli", "sim", "--port", "0", "--attached", "--seed", str(seed)]
        words += [w for f in faults for w in ("--fault", f)]
        process = await asyncio.create_subprocess_exec(
            sys.executable, *words, stdin=asyncio.subprocess.PIPE, stdout=asyncio.subprocess.PIPE
        )
        try:
            assert process.stdout is not None
            where = (await asyncio.wait_for(process.stdout.readline(), 60)).decode().rsplit(":", 1)[-1]
            if not where.strip().isdigit():
                raise OSError
            reader, writer = await asyncio.open_connection("127.0.0.1", int(where), limit=LONGEST_LINE)
            try:
                yield reader, writer
            finally:
                writer.close()
        finally:
            with contextlib.suppress(ProcessLookupError):
                process.terminate()
            await process.wait()

    return connect


def columns(samples: list[LiveSample]) -> dict[str, list[float | int | str | None]]:
    """Samples as columns, as they go over the wire."""
    names = ("n", "at_s", "volts_v", "set_point_v", "z_mm", "feed_mm_min", "control", "phase")
    return {name: [getattr(s, name) for s in samples] for name in names}
