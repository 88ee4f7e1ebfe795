"""Commands for data too large for one program: put in parts, and analysed by several."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

import click

from .common import Progress, guarded, report, set_up, write_rows


@click.command(short_help="Write the tables in FOLDER as a data set in parts.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.argument("dataset")
@click.option(
    "--parts",
    type=click.IntRange(1, 10_000),
    required=True,
    metavar="N",
    help="How many parts. About 20,000 niches a part suit a worker with 3 GB.",
)
@click.option(
    "--mapping",
    "mapping_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="How to read files of other layouts: the output of bin/driftfield mapping.",
)
@click.option(
    "--problems",
    "problems_file",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Where the files are not as they must be, write all problems as a table: CSV, XLSX or JSON by "
    "the file's ending, else JSON lines.",
)
def partition(
    folder: Path, dataset: str, parts: int, mapping_file: Path | None, problems_file: Path | None
) -> None:
    """Write the exchange tables in FOLDER as partitioned Parquet to DATASET, in bounded memory.

    DATASET is a folder, or an address such as s3://bucket/market; nothing may lie there yet. A niche's rows lie
    together in one part. Every line is checked as on import, and nothing is written where one is wrong. What is
    read is set aside on disk meanwhile: in DRIFTFIELD_SCRATCH, or where the system puts temporary files.

    \b
    Example:
      bin/driftfield partition demo/harrow-quay.zip market.parts --parts 4
    """
    from driftfield.exchange.dataset.partition import partition as put_in_parts
    from driftfield.exchange.mapping import Agreed, read_document
    from driftfield.exchange.problems import ExchangeError

    bars: dict[str, Progress] = {}

    def progress(step: str, done: int, whole: int) -> None:
        bars.setdefault(step, Progress(step))(done, whole)

    def work() -> None:
        mappings = read_document(mapping_file) if mapping_file else {}
        agreed = Agreed({layout: mapping for layout, (_, mapping) in mappings.items()})
        cap = None if problems_file is None else ALL_PROBLEMS
        try:
            made = put_in_parts(folder, dataset, parts, agreed=agreed, cap=cap, progress=progress)
        except ExchangeError as error:
            if problems_file is None:
                raise
            rows = [
                {"file": p.file, "line": p.line, "column": p.column, "value": p.value,
                 "problem": p.message, "remedy": p.remedy}
                for p in error.problems.kept
            ]  # fmt: skip
            write_rows("Problems", list(rows[0]), rows, problems_file)
            counted = error.problems.count
            noun = "problem" if counted == 1 else "problems"
            raise _Refused(
                f"{counted:,} {noun}, written to {problems_file}. Nothing was changed."
            ) from None
        for note in made.notes:
            report(f"Note: {note}")
        rows_in_all = sum(made.rows.values())
        report(
            f"{rows_in_all:,} rows of {len(made.tables)} tables written to {dataset} in {parts} parts."
        )

    guarded(work)


ALL_PROBLEMS = 1_000_000  # In a table there is room for them.


class _Refused(click.ClickException):
    """What is said where the problems are in a table."""

    def show(self, file: object = None) -> None:
        report(self.message)


def analyse_in_parts(
    dataset: str,
    out: str | None,
    cluster: str,
    pairs: Sequence[str],
    lens_name: str,
    weights: Sequence[str],
    as_of: date | None,
    planning: date | None,
    *,
    skip_bad: bool,
) -> None:
    """Analyse a data set by the workers of a cluster, and say what it came to."""
    from driftfield.cluster import analyse_dataset, connected
    from driftfield.core.base import DEFAULTS
    from driftfield.core.market import NICHE, ready_lenses
    from driftfield.core.ranking import lens_named
    from driftfield.core.signals import THRESHOLDS

    if out is None:
        raise click.UsageError("Say with --out where the parts of the result are to be written.")
    bars: dict[str, Progress] = {}

    def progress(step: str, done: int, whole: int) -> None:
        bars.setdefault(step, Progress(step))(done, whole)

    def work() -> None:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        lens = lens_named(lens_name, ready_lenses(NICHE, settings)).with_pairs(weights)
        with connected(cluster) as client:
            found = analyse_dataset(
                client, dataset, out, settings, lens, as_of=as_of, planning=planning,
                skip_bad=skip_bad, progress=progress,
            )  # fmt: skip
        for note in found.notes:
            report(f"Note: {note}")
        for one in found.left_out:
            report(f"Left out: part {one.part} of market {one.market}. {one.reason}")
        parts = "1 part" if found.parts == 1 else f"{found.parts:,} parts"
        report(f"{NICHE.many(found.niches)} of {parts} written to {out} in {found.seconds:.0f} s.")

    guarded(work)


@click.command(short_help="Show the figures that a run over parts left.")
@click.argument("figures")
@click.option(
    "--data",
    metavar="DATASET",
    help="Where the data set is now, if it is not where the run read it.",
)
def link(figures: str, data: str | None) -> None:
    """Show in the application what analyse --cluster wrote to FIGURES, niche by niche with its curves.

    The figures are copied into the data folder; tables stay in the data set, and a niche's are fetched when it
    is opened. Decisions, notes and plans are kept as ever. A market that was linked before has the new
    figures.

    \b
    Example:
      bin/driftfield link s3://bucket/figures
    """
    set_up()
    from driftfield.api.ledger.query import COLUMNS
    from driftfield.core.market import NICHE
    from driftfield.readings.actions import link_figures
    from driftfield.readings.columns import columns_of

    bar: list[Progress] = []

    def progress(step: str, done: int, whole: int) -> None:
        if whole:
            bar[:] = bar or [Progress(step)]
            bar[0](done, whole)

    def work() -> None:
        for run in link_figures(figures, data or "", progress=progress):
            # Of millions of niches the first page would else take most of a minute.
            columns_of(run, NICHE).read_ahead(COLUMNS)
            report(f"{run.market.name}: {NICHE.many(run.niches)} as of {run.as_of}. {run.note}")

    guarded(work)


@click.command(short_help="Take away what link shows.")
@click.argument("market", metavar="MARKET")
def unlink(market: str) -> None:
    """Take the figures of MARKET, and of all markets linked with it, away again. Decisions and notes stay.

    \b
    Example:
      bin/driftfield unlink north
    """
    set_up()
    from driftfield.readings.actions import unlink as take_away

    guarded(lambda: take_away(market))
    report(f"{market} is linked no more.")


COMMANDS = [partition, link, unlink]
