"""The simulated table's line: what it shows as JSON lines over TCP (``orthotome.line``, see docs/formats).

One table, any number of listeners. It says who it is, then what it shows, batch by batch; it takes ``run``, ``trim``
and ``stop``. A recording can be played through the same line.
"""

import asyncio
import contextlib
import json
import math
import sys
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from orthotome.core.errors import TradeError
from orthotome.core.height.loop import LoopSettings, Warp
from orthotome.core.height.trace import Trace, filled
from orthotome.sim.live import (
    LIVE_GAIN_MM_S_V,
    SAMPLES_PER_S,
    SET_POINTS_V,
    STEP_S,
    LiveJob,
    LivePath,
    LiveSample,
    LiveTable,
)

_BATCH = 10
_LONGEST_LINE = 64_000


@dataclass
class TableLine:
    """A table that runs by itself and says what it shows to whoever listens."""

    table: LiveTable
    name: str = "Simulated table (example)"
    pace: float = 1.0  # times as fast as real
    replay: Trace | None = None
    _running: Iterator[LiveSample] | None = None
    _listeners: set[asyncio.StreamWriter] = field(default_factory=set)

    async def serve(self, host: str, port: int) -> asyncio.Server:
        """Listen; the table's clock runs from here on."""
        server = await asyncio.start_server(self._meet, host, port, limit=_LONGEST_LINE)
        self._clock = asyncio.create_task(self._run())
        return server

    async def _meet(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        self._say(writer, self.hello())
        self._listeners.add(writer)
        try:
            while line := await reader.readline():
                answer = self.told(line)
                if answer is not None:
                    self._say(writer, answer)
        except (ConnectionError, ValueError, asyncio.CancelledError):
            pass  # gone, or no line of this protocol, or the table ends
        finally:
            self._listeners.discard(writer)
            writer.close()

    def hello(self) -> dict[str, Any]:
        """Who this is and what it can."""
        can = [] if self.replay is not None else ["run", "trim", "stop"]
        return {
            "format": "orthotome.line",
            "version": 1,
            "says": "hello",
            "name": self.name,
            "samples_per_s": SAMPLES_PER_S,
            "can": can,
            "set_point_v": list(SET_POINTS_V),
        }

    def told(self, line: bytes) -> dict[str, Any] | None:
        """Do what a line asks, and answer where it cannot be done."""
        try:
            asked = json.loads(line)
            word = asked["do"]
            if word == "run" and self._running is None:
                self._running = self.table.cut(job_of(asked))
            elif word == "trim":
                self._trim(float(asked["by_v"]))
            elif word == "stop":
                self.table.stopped = True
            else:
                return _refused(f"“{word}” is not done now.")
        except TradeError as refused:
            return _refused(str(refused))
        except (ValueError, KeyError, TypeError):
            return _refused("That is no line of orthotome.line, version 1.")
        return None

    def _trim(self, by_v: float) -> None:
        if not math.isfinite(by_v) or abs(by_v) > 20:
            raise TradeError("by_v", "must be within 20 V.")
        self.table.trimmed_v += by_v

    async def _run(self) -> None:
        clock = asyncio.get_running_loop()
        begun, made = clock.time(), 0
        samples = self._replayed() if self.replay is not None else self._samples()
        batch: list[LiveSample] = []
        for sample in samples:
            batch.append(sample)
            made += 1
            if len(batch) == _BATCH:
                self._tell(batch)
                batch = []
                ahead = made * STEP_S / self.pace - (clock.time() - begun)
                await asyncio.sleep(max(0.0, ahead))
                if ahead < -5:  # the machine slept
                    begun, made = clock.time(), 0

    def _samples(self) -> Iterator[LiveSample]:
        while True:
            sample = next(self._running, None) if self._running is not None else None
            if sample is None:
                self._running = None
                sample = self.table.idle()
            yield sample

    def _replayed(self) -> Iterator[LiveSample]:
        """A recording over and over, at this line's own rate."""
        trace = self.replay
        assert trace is not None
        t = trace.time_s
        at = np.arange(t[0], t[-1], STEP_S)
        columns = [filled(c) for c in (trace.set_point_v, trace.z_mm, trace.feed_mm_min, trace.control)]
        index = np.minimum(np.searchsorted(t, at), len(t) - 1)
        now = 0.0
        while True:
            for i in index:
                now += STEP_S
                set_point, z, feed, on = (None if c is None else float(c[i]) for c in columns)
                yield LiveSample(
                    now, float(trace.volts_v[i]), set_point, z or 0.0, feed or 0.0, (on or 0) > 0.5
                )

    def _tell(self, batch: list[LiveSample]) -> None:
        told = {
            "says": "samples",
            "at_s": [round(s.at_s, 3) for s in batch],
            "arc_voltage_v": [round(s.arc_voltage_v, 2) for s in batch],
            "set_point_v": [None if s.set_point_v is None else round(s.set_point_v, 2) for s in batch],
            "z_mm": [round(s.z_mm, 3) for s in batch],
            "feed_mm_min": [round(s.feed_mm_min, 1) for s in batch],
            "control_on": [int(s.control_on) for s in batch],
        }
        for writer in list(self._listeners):
            self._say(writer, told)

    def _say(self, writer: asyncio.StreamWriter, told: dict[str, Any]) -> None:
        # Whoever does not listen for ten seconds is let go: a table does not wait.
        if writer.transport.get_write_buffer_size() > 10 * 100 * SAMPLES_PER_S:
            writer.transport.abort()
            self._listeners.discard(writer)
            return
        with contextlib.suppress(ConnectionError):
            writer.write(json.dumps(told, separators=(",", ":")).encode() + b"\n")


def _refused(sentence: str) -> dict[str, Any]:
    return {"says": "refused", "why": sentence}


def job_of(asked: dict[str, Any]) -> LiveJob:
    """The job that a ``run`` line asks for. Raises TradeError naming what is missing."""
    try:
        control = asked.get("control")
        loop = None
        if control is not None:
            sampled = control.get("set_point_v") is None
            loop = LoopSettings(
                set_point_v=math.nan if sampled else float(control["set_point_v"]),
                gain_mm_s_v=float(control.get("gain_mm_s_v", LIVE_GAIN_MM_S_V)),
                dead_band_v=float(control.get("dead_band_v", 1.5)),
                delay_s=float(control.get("delay_s", 0.8)),
                z_speed_mm_s=float(control.get("z_speed_mm_s", 40.0)),
                hold_below_share=control.get("hold_below_share", 0.9),
                crossing_jump_v=control.get("crossing_jump_v"),
            )
        paths = tuple(
            LivePath(
                float(p["length_mm"]),
                tuple(float(x) for x in p.get("corners_mm", ())),
                tuple(float(x) for x in p.get("crossings_mm", ())),
                bool(p.get("ends_off_plate", False)),
            )
            for p in asked["paths"]
        )
        return LiveJob(
            speed_mm_min=_positive(asked, "speed_mm_min"),
            cut_height_mm=_positive(asked, "cut_height_mm"),
            pierce_height_mm=_positive(asked, "pierce_height_mm"),
            pierce_delay_s=max(0.0, float(asked["pierce_delay_s"])),
            steady_v=_positive(asked, "steady_v"),
            paths=paths,
            loop=loop,
            warp=Warp(float(asked.get("warp_mm", 0.0)), max(20.0, float(asked.get("wave_mm", 250.0)))),
            acceleration_mm_s2=float(asked.get("acceleration_mm_s2", 600.0)),
        )
    except KeyError as missing:
        raise TradeError(str(missing.args[0]), "is missing.") from None


def _positive(asked: dict[str, Any], name: str) -> float:
    value = float(asked[name])
    if not (math.isfinite(value) and value > 0):
        raise TradeError(name, "must be more than zero.")
    return value


async def run_line(line: TableLine, host: str, port: int, *, attached: bool) -> None:
    """Listen until stopped; ``attached``: until whoever started it ends, which closes standard input."""
    server = await line.serve(host, port)
    print(f"The simulated table listens on {host}:{server.sockets[0].getsockname()[1]}", flush=True)
    if attached:
        await asyncio.to_thread(sys.stdin.buffer.read)
        return
    await server.serve_forever()
