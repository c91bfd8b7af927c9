"""The command line: advise, start, signal-path, align, trace, wear, check, measure, piece; serve, backup, restore; the published schemas."""

import gc
import math
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, NoReturn, cast

import typer

if TYPE_CHECKING:
    from collections.abc import Callable

    from orthotome.core.path.rings import Ring
    from orthotome.formats.pieces.curves import Unit
    from orthotome.store.database import Database

app = typer.Typer(add_completion=False, no_args_is_help=True, help=__doc__)

_MOST_BATCH = 12


def _refuse(sentence: str) -> NoReturn:
    """One clear sentence on standard error and exit status 2."""
    typer.echo(f"orthotome: {sentence}", err=True)
    raise typer.Exit(2)


def _read_file(name: str) -> bytes:
    if name == "-":
        return sys.stdin.buffer.read()
    try:
        return Path(name).read_bytes()
    except OSError as failed:
        _refuse(f"cannot read {name}: {failed.strerror}.")


@app.command()
def advise(
    file: Annotated[str, typer.Argument(help="Campaign file; - is standard input.")] = "",
    stream: Annotated[bool, typer.Option("--stream", help="One campaign per line.")] = False,
    batch: Annotated[int, typer.Option(min=1, max=_MOST_BATCH, help="Cuts on one plate.")] = 1,
) -> None:
    """What to cut next, or that it is square, from a campaign file."""
    if stream:
        _advise_stream(batch)
    elif not file:
        _refuse("give a campaign file, - for standard input, or --stream.")
    else:
        from orthotome.formats.reading import FileError  # noqa: PLC0415 (start-up time)

        try:
            typer.echo(_advice_json(_read_file(file), batch))
        except FileError as refused:
            _refuse(str(refused))


def _advice_json(text: bytes, batch: int) -> str:
    from orthotome.core.tuner.advise import advise as core_advise  # noqa: PLC0415
    from orthotome.formats.trial.advice import advice_to_file  # noqa: PLC0415
    from orthotome.formats.trial.campaign import read_campaign  # noqa: PLC0415

    return advice_to_file(core_advise(read_campaign(text), batch)).model_dump_json()


def _advise_stream(batch: int) -> None:
    from orthotome.formats.reading import FileError  # noqa: PLC0415
    from orthotome.formats.trial.advice import RefusedAdvice  # noqa: PLC0415

    for line in sys.stdin.buffer:
        if not line.strip():
            continue
        try:
            answer = _advice_json(line, batch)
        except FileError as refused:
            answer = RefusedAdvice(error=str(refused)).model_dump_json()
        sys.stdout.write(answer + "\n")
        sys.stdout.flush()


@app.command()
def start(
    rows: Annotated[str, typer.Option(help="Rows file (CSV); - is standard input.")],
    metal: Annotated[str, typer.Option(help="Metal by its name in the files.")],
    thickness_mm: Annotated[float, typer.Option("--thickness-mm", min=0.2, max=160)],
    set_name: Annotated[str, typer.Option("--set", help="Torch set by name.")],
    gas: Annotated[str | None, typer.Option(help="Where the set has rows for several.")] = None,
) -> None:
    """Starting numbers for a metal and thickness, with the rows they came from."""
    from orthotome.core.book.beginning import begin  # noqa: PLC0415
    from orthotome.formats.book.rows import read_rows  # noqa: PLC0415
    from orthotome.formats.book.start import start_to_file  # noqa: PLC0415
    from orthotome.formats.reading import FileError  # noqa: PLC0415

    try:
        found = read_rows(_read_file(rows).decode("utf-8-sig"))
    except FileError as refused:
        _refuse(str(refused))
    except UnicodeDecodeError:
        _refuse("file: is not text in UTF-8.")
    answer = begin(found, metal=metal, thickness_mm=thickness_mm, torch_set=set_name, gas=gas)
    typer.echo(start_to_file(answer).model_dump_json())


@app.command("signal-path")
def signal_path(
    file: Annotated[str, typer.Argument(help="Signal path file; - is standard input.")],
) -> None:
    """What the screen will show, what the torch will do, and which stage contradicts a reading."""
    from orthotome.core.errors import TradeError  # noqa: PLC0415 (start-up time)
    from orthotome.formats.height import signal_path as path_files  # noqa: PLC0415
    from orthotome.formats.reading import FileError  # noqa: PLC0415

    try:
        given = path_files.read_signal_path(_read_file(file))
        report = path_files.report_to_file(path_files.examine_file(given))
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    typer.echo(report.model_dump_json())


@app.command()
def align(
    file: Annotated[str, typer.Argument(help="Slug file; - is standard input.")],
) -> None:
    """The jet's lean from readings round a slug or squares, and how to set it upright."""
    from orthotome.core.errors import TradeError  # noqa: PLC0415 (start-up time)
    from orthotome.formats.reading import FileError  # noqa: PLC0415
    from orthotome.formats.torch.slug import align_text  # noqa: PLC0415

    try:
        answer = align_text(_read_file(file))
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    typer.echo(answer.model_dump_json())


_UNIT_OF_DRAWING = "mm or in: what the numbers of the drawing are in, whatever the file says of itself."


@app.command()
def trace(
    file: Annotated[str, typer.Argument(help="CSV file of a recording; - is standard input.")],
    slope: Annotated[
        float | None,
        typer.Option("--slope-v-per-mm", min=0.5, max=60, help="Volts per mm of height."),
    ] = None,
    cut_height_mm: Annotated[float | None, typer.Option("--cut-height-mm", min=0.05, max=40)] = None,
    set_point_v: Annotated[float | None, typer.Option("--set-point-v", min=20, max=400)] = None,
    speed_mm_min: Annotated[
        float | None,
        typer.Option("--speed-mm-min", min=1, max=60_000, help="Where no feed was recorded."),
    ] = None,
) -> None:
    """What a recording of the arc voltage says: settling, corners, dives, and what height control should be told."""
    from orthotome.core.errors import TradeError  # noqa: PLC0415 (start-up time)
    from orthotome.core.height.trace_report import BesideTrace  # noqa: PLC0415
    from orthotome.formats.height.trace import trace_text  # noqa: PLC0415
    from orthotome.formats.reading import FileError  # noqa: PLC0415

    try:
        report = trace_text(
            _read_file(file), BesideTrace(slope, cut_height_mm, set_point_v, speed_mm_min)
        )
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    typer.echo(report.model_dump_json())


@app.command()
def wear(
    file: Annotated[str, typer.Argument(help="Ledger of fitted parts; - is standard input.")],
) -> None:
    """What fitted parts have left, and what their wear does to the set-point."""
    from orthotome.core.errors import TradeError  # noqa: PLC0415 (start-up time)
    from orthotome.formats.reading import FileError  # noqa: PLC0415
    from orthotome.formats.torch.wear import wear_text  # noqa: PLC0415

    try:
        report = wear_text(_read_file(file))
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    typer.echo(report.model_dump_json())


@app.command()
def measure(
    file: Annotated[str, typer.Argument(help="Measured pieces; - is standard input.")],
) -> None:
    """Whether the gantry is square, the scale of each axis, the kerf, and what to draw so that holes fit."""
    from orthotome.core.errors import TradeError  # noqa: PLC0415 (start-up time)
    from orthotome.formats.machine.measures import measure_text  # noqa: PLC0415
    from orthotome.formats.reading import FileError  # noqa: PLC0415

    try:
        report = measure_text(_read_file(file))
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    typer.echo(report.model_dump_json())


@app.command()
def trouble(
    file: Annotated[str, typer.Argument(help="A complaint with what is known; - is standard input.")],
) -> None:
    """What it may be, likeliest first, and the question that separates the causes best."""
    from orthotome.core.errors import TradeError  # noqa: PLC0415 (start-up time)
    from orthotome.formats.reading import FileError  # noqa: PLC0415
    from orthotome.formats.trouble.trouble import trouble_text  # noqa: PLC0415

    try:
        report = trouble_text(_read_file(file))
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    typer.echo(report.model_dump_json())


@app.command()
def check(
    file: Annotated[
        str, typer.Argument(metavar="PROGRAM", help="Cutting program; - is standard input.")
    ],
    *,
    profile: Annotated[str, typer.Option(help="Output profile by name; else the table's.")] = "",
    campaign: Annotated[str, typer.Option(help="Campaign file to check against.")] = "",
    recipe: Annotated[str, typer.Option(help="Recipe file to check against.")] = "",
    table: Annotated[str, typer.Option(help="The file that the Machine page saves.")] = "",
    sheet: Annotated[str, typer.Option(help="Sheet, as 2500x1250 in mm.")] = "",
    drawing: Annotated[str, typer.Option(help="DXF or SVG of the part, laid over.")] = "",
    unit: Annotated[str, typer.Option(help=_UNIT_OF_DRAWING)] = "",
    write: Annotated[str, typer.Option(help="Where to write a copy that is put right.")] = "",
) -> None:
    """What a cutting program would do, held against the setting, the table and the sheet."""
    from orthotome.core.errors import TradeError  # noqa: PLC0415 (start-up time)
    from orthotome.formats.programs.checking import Given, check_file  # noqa: PLC0415
    from orthotome.formats.programs.rs274 import NoProgram  # noqa: PLC0415
    from orthotome.formats.reading import FileError  # noqa: PLC0415

    if campaign and recipe:
        _refuse("give a campaign or a recipe to check against, not both.")
    if unit not in ("", "mm", "in"):
        _refuse(f"unit: “{unit}” is neither mm nor in.")
    size = _numbers(sheet.lower().replace("x", ","), "sheet", count=2) if sheet else []
    given = Given(
        profile=profile,
        campaign=_read_file(campaign) if campaign else None,
        recipe=_read_file(recipe) if recipe else None,
        table=_read_file(table) if table else None,
        sheet_mm=(size[0], size[1]) if size else None,
        drawing=_read_file(drawing) if drawing else None,
        drawing_unit=cast("Unit | None", unit or None),
    )
    try:
        report, copy = check_file(_read_file(file), given, write=bool(write))
    except (FileError, TradeError, NoProgram) as refused:
        _refuse(str(refused))
    if write and copy is not None:
        if write == file or (file != "-" and Path(write).resolve() == Path(file).resolve()):
            _refuse("write: the input is never changed; give another name for the copy.")
        try:
            Path(write).write_bytes(copy)
        except OSError as failed:
            _refuse(f"cannot write {write}: {failed.strerror}.")
    typer.echo(report.model_dump_json(exclude_none=False))


@app.command()
def sim(
    *,
    port: Annotated[int, typer.Option(min=0, max=65535, help="0 takes a free one.")] = 8439,
    host: Annotated[str, typer.Option(help="Address to listen on.")] = "127.0.0.1",
    seed: Annotated[int, typer.Option(help="Of its hidden truth.")] = 4,
    pace: Annotated[float, typer.Option(min=0.1, max=100, help="Times as fast as real.")] = 1.0,
    fault: Annotated[
        list[str] | None, typer.Option(help="divided_twice, clip_loose, wet_air, worn_electrode.")
    ] = None,
    replay: Annotated[str, typer.Option(help="CSV file of a recording to play instead.")] = "",
    attached: Annotated[bool, typer.Option(help="End when standard input does.")] = False,
) -> None:
    """A simulated table on a line of its own (orthotome.line): it runs, and says what its arc shows."""
    import asyncio  # noqa: PLC0415 (start-up time)

    from orthotome.core.errors import TradeError  # noqa: PLC0415
    from orthotome.core.height.trace import checked  # noqa: PLC0415
    from orthotome.formats.height.trace_csv import read_trace_csv  # noqa: PLC0415
    from orthotome.formats.reading import FileError  # noqa: PLC0415
    from orthotome.sim.line import TableLine, run_line  # noqa: PLC0415
    from orthotome.sim.live import FAULTS, Fault, LiveTable  # noqa: PLC0415

    unknown = [name for name in fault or () if name not in FAULTS]
    if unknown:
        _refuse(f"fault: there is no “{unknown[0]}”: use one of {', '.join(FAULTS)}.")
    try:
        recording = checked(read_trace_csv(_read_file(replay))) if replay else None
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    table = LiveTable(seed, frozenset(cast("list[Fault]", fault or [])))
    line = TableLine(table, pace=pace, replay=recording)
    try:
        asyncio.run(run_line(line, host, port, attached=attached))
    except OSError as failed:
        _refuse(f"cannot listen on {host}:{port}: {failed.strerror}.")
    except KeyboardInterrupt:
        pass


@app.command()
def piece(
    kind: Annotated[str, typer.Argument(help="strip_ladder, height_ladder, square, round, ...")],
    file: Annotated[str, typer.Argument(help="Campaign file; - is standard input.")],
    *,
    out: Annotated[Path, typer.Option(help="Folder for the files; made if it is not there.")],
    profile: Annotated[str, typer.Option(help="Output profile by name.")] = "metric",
    plate: Annotated[str, typer.Option(help="Plate to fit on, as 300x200 in mm.")] = "",
    speeds: Annotated[str, typer.Option(help="Of a strip ladder, mm/min, with commas.")] = "",
    heights: Annotated[str, typer.Option(help="Of a height ladder, mm.")] = "",
    delays: Annotated[str, typer.Option(help="Of a pierce ladder, s.")] = "",
    drawing: Annotated[str, typer.Option(help="Of an own_part: DXF or SVG file.")] = "",
    unit: Annotated[str, typer.Option(help=_UNIT_OF_DRAWING)] = "",
) -> None:
    """A test piece for the settings in a campaign's start: program, drawings, cut sheet."""
    from typing import get_args  # noqa: PLC0415 (start-up time)

    from orthotome.core.errors import TradeError  # noqa: PLC0415
    from orthotome.core.pieces import PieceName, check_plate  # noqa: PLC0415
    from orthotome.core.quantities import INCH, METRIC, speak  # noqa: PLC0415
    from orthotome.formats.machine.profile import profile_named  # noqa: PLC0415
    from orthotome.formats.pieces.piece_set import piece_files, piece_of  # noqa: PLC0415
    from orthotome.formats.reading import FileError  # noqa: PLC0415
    from orthotome.formats.trial.campaign import read_campaign  # noqa: PLC0415

    if kind not in get_args(PieceName):
        _refuse(f"there is no piece “{kind}”: use one of {', '.join(get_args(PieceName))}.")
    if unit not in ("", "mm", "in"):
        _refuse(f"unit: “{unit}” is neither mm nor in.")
    try:
        wanted = profile_named(profile)
        speak(INCH if wanted.units == "in" else METRIC)
        campaign = read_campaign(_read_file(file))
        made = piece_of(
            cast(PieceName, kind),
            campaign,
            speeds_mm_min=_numbers(speeds, "speeds"),
            heights_mm=_numbers(heights, "heights"),
            delays_s=_numbers(delays, "delays", zero=True),
            own=_own_part(drawing, unit) if drawing else None,
        )
        if plate:
            width, height = _numbers(plate.lower().replace("x", ","), "plate", count=2)
            check_plate(made, (width, height))
        files = piece_files(made, campaign, wanted)
    except (FileError, TradeError) as refused:
        _refuse(str(refused))
    try:
        out.mkdir(parents=True, exist_ok=True)
        for name, content in files.items():
            (out / name).write_bytes(content)
    except OSError as failed:
        _refuse(f"cannot write into {out}: {failed.strerror}.")


def _own_part(file: str, unit: str) -> "tuple[str, tuple[Ring, ...]]":
    """The name and the contours of a drawing; what was left out of it is said on standard error."""
    from orthotome.formats.pieces.drawing import read_drawing  # noqa: PLC0415

    found = read_drawing(_read_file(file), cast("Unit | None", unit or None))
    for note in (found.measured.in_words, *found.notes):
        typer.echo(f"orthotome: {note}", err=True)
    return Path(file).stem, found.rings


def _numbers(text: str, field: str, *, count: int = 0, zero: bool = False) -> list[float]:
    """Numbers with commas between them, each more than zero (or zero, where that is a value)."""
    try:
        found = [float(word) for word in text.split(",")] if text.strip() else []
    except ValueError:
        _refuse(f"{field}: write numbers with commas between them, not “{text}”.")
    if (count and len(found) != count) or any(
        not math.isfinite(n) or n < 0 or (n == 0 and not zero) for n in found
    ):
        _refuse(f"{field}: {text} is not usable: give {count or 'some'} numbers more than zero.")
    return found


@app.command()
def serve(
    *,
    data: Annotated[Path, typer.Option(help="Folder of the shop's database.")] = Path("data"),
    port: Annotated[int, typer.Option(min=0, max=65535, help="0 takes a free one.")] = 8437,
    demo: Annotated[bool, typer.Option("--demo", help="Fill an empty database with examples.")] = False,
    reset: Annotated[bool, typer.Option("--reset", help="Start the demo afresh.")] = False,
    lan: Annotated[
        bool, typer.Option("--lan", help="Serve paired devices of the shop's network too.")
    ] = False,
    lan_host: Annotated[
        str, typer.Option(help="One address of this machine; all, if left out.")
    ] = "0.0.0.0",
    lan_port: Annotated[int, typer.Option(min=0, max=65535)] = 8438,
) -> None:
    """Serve Orthotome on 127.0.0.1, and with --lan to paired devices of the shop's network."""
    if reset and not demo:
        _refuse("--reset goes with --demo: the shop's own records are never thrown away.")
    from orthotome.desk.working.processes import begin  # noqa: PLC0415 (start-up time)

    begin()
    gc.disable()  # what is imported stays: looking through it as it grows is a tenth of the start
    from orthotome.api.serving import Lan  # noqa: PLC0415
    from orthotome.api.serving import serve as run  # noqa: PLC0415
    from orthotome.store.errors import StartFault  # noqa: PLC0415

    prepare: Callable[[Database], None] | None = None
    if demo:
        from orthotome.demo import fill_if_empty  # noqa: PLC0415

        prepare = fill_if_empty

    gc.freeze()
    gc.enable()
    try:
        run(
            _records(data, demo=demo),
            port,
            reset=reset,
            prepare=prepare,
            lan=Lan(lan_host, lan_port) if lan else None,
        )
    except StartFault as fault:
        _refuse(str(fault))


def _records(data: Path, *, demo: bool = False) -> Path:
    """The database of a data folder: the shop's, or the demo's."""
    return data / ("demo.sqlite" if demo else "orthotome.sqlite")


_Data = Annotated[Path, typer.Option(help="Folder of the shop's database.")]


@app.command()
def backup(
    to: Annotated[
        Path | None, typer.Argument(help="Where to put a copy of it: a stick, a share.")
    ] = None,
    data: _Data = Path("data"),
) -> None:
    """Make a backup, also while Orthotome runs: one file that holds all records, opened and checked.

    Photos are files of their own that never change: those that are not there yet are copied to a folder beside it.
    """
    import shutil  # noqa: PLC0415 (start-up time)

    from orthotome.store.keeping import backups  # noqa: PLC0415
    from orthotome.store.keeping.files import Unusable  # noqa: PLC0415
    from orthotome.store.log import photo_files  # noqa: PLC0415

    records = _records(data)
    if not records.is_file():
        _refuse(f"there is no {records} to back up: name the shop's folder with --data.")
    try:
        made = backups.make(records, "by_hand").path
        if to is not None:
            made = Path(shutil.copy(made, to))
            photo_files.copy_missing(photo_files.folder_of(records), made.with_name("photos"))
    except Unusable as found:
        _refuse(backups.in_words(found))
    except OSError as failed:
        _refuse(f"the backup is at {made}, but could not be copied to {to}: {failed.strerror}.")
    typer.echo(made)


@app.command()
def restore(
    backup_file: Annotated[
        Path | None, typer.Argument(metavar="[BACKUP]", help="A backup's file.")
    ] = None,
    data: _Data = Path("data"),
) -> None:
    """Get the records back from a backup, while Orthotome is stopped; without a file: list what there is."""
    from orthotome.store.keeping import backups, restoring  # noqa: PLC0415 (start-up time)

    records = _records(data)
    if backup_file is None:
        for found in backups.backups(records):
            typer.echo(f"{found.made_at:%Y-%m-%d %H:%M} UTC  {found.bytes / 1e6:8.1f} MB  {found.path}")
        return
    _put_back(lambda: restoring.restore(backup_file, records), records)


@app.command()
def rescue(
    copied: Annotated[
        Path, typer.Argument(help="A database that was copied without the file beside it.")
    ],
    data: _Data = Path("data"),
) -> None:
    """Take what a half copy of a running shop holds, where there is no backup: what was written last is lost."""
    from orthotome.store.keeping import restoring  # noqa: PLC0415 (start-up time)

    records = _records(data)
    _put_back(lambda: restoring.rescue(copied, records), records)


def _put_back(put: "Callable[[], Path | None]", records: Path) -> None:
    """Put records in place while no Orthotome runs on them, and say where what was there is."""
    from orthotome.store.errors import Refused, StartFault  # noqa: PLC0415 (start-up time)
    from orthotome.store.keeping.opening import held  # noqa: PLC0415

    try:
        with held(records):
            was = put()
    except (Refused, StartFault) as refused:
        _refuse(str(refused))
    typer.echo(f"Restored into {records}." + (f" What was there before: {was}" if was else ""))


@app.command()
def schemas(
    folder: Annotated[Path, typer.Argument(help="Where to write them.")] = Path("docs"),
    words: Annotated[Path | None, typer.Option(help="The front end's words.")] = None,
) -> None:
    """Write the JSON Schemas of the open files and the OpenAPI document."""
    from orthotome.api.serving import openapi_text  # noqa: PLC0415
    from orthotome.formats.schemas import write_schemas  # noqa: PLC0415

    write_schemas(folder / "formats")
    (folder / "openapi.json").write_text(openapi_text(), encoding="utf-8")
    if words is not None:
        from orthotome.formats.words import words_module  # noqa: PLC0415

        words.write_text(words_module(), encoding="utf-8")


def main() -> None:
    """Entry point of the ``orthotome`` command."""
    app()


if __name__ == "__main__":
    main()
