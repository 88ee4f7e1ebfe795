"""The command that analyses files without a database, in this program or by several."""

from __future__ import annotations

import sys
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

import click

from .common import Progress, guarded, parse_day, report
from .dataset import analyse_in_parts

if TYPE_CHECKING:
    import polars as pl

    from driftfield.core.base import Bools
    from driftfield.core.market import Workings
    from driftfield.exchange.market_data import MarketInput


@click.command(short_help="Analyse FOLDER without a database; one record per niche.")
@click.argument("folder", metavar="FOLDER")
@click.option(
    "--as-of",
    callback=parse_day,
    metavar="DATE",
    help="Read nothing later than this day. Default: the last complete period in the data.",
)
@click.option(
    "--planning-date",
    callback=parse_day,
    metavar="DATE",
    help="Plan dates from this day: when an order would be placed. Default: the as-of.",
)
@click.option(
    "--of",
    "kinds",
    type=click.Choice(["niches", "terms", "categories", "listings", "brands", "sellers"]),
    default="niches",
    show_default=True,
    help="What each record describes.",
)
@click.option(
    "--out",
    "destination",
    metavar="FILE",
    help="File to write; default is standard output. With --cluster a folder, or an address.",
)
@click.option(
    "--format",
    "format_",
    type=click.Choice(["jsonl", "csv", "xlsx", "parquet"]),
    help="Default: by the file's ending, else jsonl.",
)
@click.option(
    "--set",
    "pairs",
    multiple=True,
    metavar="KEY=VALUE",
    help="Change a setting, as in --set drift_rate=0.1; may be repeated. docs/method.md lists them.",
)
@click.option(
    "--lens",
    "lens_name",
    default="Default",
    show_default=True,
    metavar="NAME",
    help="Rank by a ready lens: First product, Season specialist, Brand to build or Reseller; categories by "
    "First steps or Proven by newcomers.",
)
@click.option(
    "--weight",
    "weights",
    multiple=True,
    metavar="PART=NUMBER",
    help="Change a weight of the lens, as in --weight reviews=0.4; may be repeated. docs/method.md "
    "lists the parts; balance=0.6 gives demand more of the headroom.",
)
@click.option(
    "--category",
    metavar="CATEGORY",
    help="Rank only the niches of this category and those below it, among themselves, and write no others.",
)
@click.option(
    "--top",
    "questions",
    multiple=True,
    metavar="QUESTION",
    help="Write only niches whose most clicked listings satisfy this, as in --top '4 of 10 reviews < 120'; "
    "may be repeated.",
)
@click.option(
    "--sieve",
    "conditions",
    multiple=True,
    metavar="TEXT",
    help="Write only what passes this condition, as in --sieve 'price 15-40' or --sieve 'not seasonal'; may "
    "be repeated: all must hold. bin/driftfield condition shows how a text is read.",
)
@click.option(
    "--terms",
    "terms_out",
    type=click.Path(path_type=Path, dir_okay=False),
    help="Also write the figures of every term to this CSV file.",
)
@click.option(
    "--mapping",
    "mapping_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="How to read files of other layouts: the output of bin/driftfield mapping.",
)
@click.option(
    "--verdict",
    is_flag=True,
    help="Add the verdict and the evidence of its signals to each record.",
)
@click.option(
    "--cluster",
    metavar="ADDRESS",
    help="FOLDER is a data set that bin/driftfield partition made; read it part by part by local:N, N programs "
    "on this machine, or a Dask scheduler at tcp://HOST:PORT. --out is then a folder of a Parquet file a part.",
)
@click.option(
    "--skip-bad",
    is_flag=True,
    help="With --cluster: leave out parts that cannot be read, and say which.",
)
def analyse(
    folder: str,
    as_of: date | None,
    planning_date: date | None,
    kinds: str,
    destination: str | None,
    format_: str | None,
    pairs: tuple[str, ...],
    lens_name: str,
    weights: tuple[str, ...],
    category: str | None,
    questions: tuple[str, ...],
    conditions: tuple[str, ...],
    terms_out: Path | None,
    mapping_file: Path | None,
    verdict: bool,
    cluster: str | None,
    skip_bad: bool,
) -> None:
    """Analyse the exchange tables in FOLDER and write one record a niche, or what --of says.

    No database is used. The records are described in schemas/reading.schema.json, and in term, category,
    listing, brand and seller.schema.json. They come best rank first, categories by searches, listings, brands
    and sellers by units; an unknown figure is null. A seller's units are those of the weeks in which it held
    the lead offer.

    \b
    Example:
      bin/driftfield analyse demo/harrow-quay.zip --out readings.csv
    """  # fmt: skip
    import numpy as np

    from driftfield.core.base import DEFAULTS, CoreError
    from driftfield.core.market import (
        BY_CLICKS,
        CATEGORY,
        KINDS_BY_PLURAL,
        NICHE,
        SELLING,
        TERM,
        check_planning,
        default_lens,
        ready_lenses,
    )
    from driftfield.core.ranking import lens_named
    from driftfield.core.sieve import Condition, Top, sift
    from driftfield.core.signals import THRESHOLDS
    from driftfield.core.supply import TopQuestion
    from driftfield.exchange.analysed import read_kind, read_niches, read_terms_of
    from driftfield.exchange.categories import population, subtree
    from driftfield.exchange.mapping import Agreed, read_document
    from driftfield.exchange.market_data import assemble
    from driftfield.exchange.reader import read_package
    from driftfield.exchange.readings import FORMATS, readings_frame, write_readings
    from driftfield.exchange.sieved import FileColumns, read_sieve
    from driftfield.exchange.sleepers import without_listings
    from driftfield.exchange.terms import write_terms

    kind = KINDS_BY_PLURAL[kinds]
    if cluster is not None:
        given = {
            "--of": kind != NICHE, "--format": format_, "--category": category, "--top": questions,
            "--sieve": conditions, "--terms": terms_out, "--mapping": mapping_file, "--verdict": verdict,
        }  # fmt: skip
        for name in (name for name, value in given.items() if value):
            raise click.UsageError(
                f"{name} does not go with --cluster, which writes the records of niches alone."
            )
        analyse_in_parts(
            folder, destination, cluster, pairs, lens_name, weights, as_of, planning_date, skip_bad=skip_bad
        )  # fmt: skip
        return
    if skip_bad:
        raise click.UsageError("--skip-bad goes with --cluster.")
    out = None if destination is None else Path(destination)
    if out is not None and out.is_dir():
        raise click.UsageError(f"{out} is a folder. Give a file to write.")

    def work() -> int:
        settings = DEFAULTS.with_pairs(pairs, THRESHOLDS)
        lens = lens_named(lens_name, ready_lenses(kind, settings)).with_pairs(weights)
        if kind == CATEGORY:
            settings, lens = lens.put_into(settings), default_lens(NICHE, settings)
        asked = [Condition(Top(TopQuestion.parse(text))) for text in questions]
        sieve, searched = read_sieve(conditions, kind)
        sieve += asked
        for words in searched:
            report(f"Note: “{words}” is no condition; names and search terms are searched for it.")
        mappings = read_document(mapping_file) if mapping_file else {}
        agreed = Agreed({layout: mapping for layout, (_, mapping) in mappings.items()})
        package = read_package(Path(folder), agreed=agreed, record_years=int(settings.record_years))
        markets, notes = assemble(package, as_of)
        if planning_date is not None and markets:
            check_planning(planning_date, max(one.data.timeline.end for one in markets))
        for note in [*package.notes, *notes]:
            report(f"Note: {note}")

        of_terms: list[tuple[MarketInput, Workings]] = []

        lone = len(markets) == 1

        def read(market: MarketInput, within: Bools | None) -> Workings | None:
            progress = Progress(f"Analysing {market.market_id}")
            niches = read_niches(
                market, settings, lens=lens, within=within if kind == NICHE else None,
                planning=planning_date, progress=progress,
            )  # fmt: skip
            done = read_kind(
                kind, market, niches, lone=lone, lens=lens, within=within,
                planning=planning_date, progress=progress,
            )  # fmt: skip
            if terms_out is not None:
                terms = done if kind == TERM else None
                terms = terms or read_terms_of(
                    market, niches, lens=lens, planning=planning_date, progress=progress
                )
                of_terms.append((market, terms))
            return done

        def frame_of(market: MarketInput) -> pl.DataFrame | None:
            within = None
            if category is not None and kind in BY_CLICKS:
                within = population(package, market, category)
                if kind == TERM:
                    within = within[market.data.term_subject]
            done = read(market, within)
            if done is None:
                return None
            if category is not None and kind not in BY_CLICKS:
                wanted = subtree(package, category)
                named = market.identity(done)["category_id"]
                within = np.array([one in wanted for one in named], dtype=bool)
            frame = readings_frame(
                kind, market.identity(done), done.figures,
                sentences=settings if verdict else None, currency=market.currency,
            )  # fmt: skip
            marks = within
            if sieve:
                passing = sift(sieve, FileColumns(kind, done, market, package)).passes
                marks = passing if marks is None else marks & passing
            if marks is None:
                return frame
            chosen = np.array(done.data.subjects, dtype=object)[marks].tolist()
            return frame.filter(frame[kind.subject].is_in(chosen))

        frames = [frame for market in markets if (frame := frame_of(market)) is not None]
        if not frames:
            raise CoreError(
                without_listings(markets, kind)
                if kind in SELLING
                else "There are no categories to read. Give a categories table, and the category_id of niches "
                "or listings."
            )
        if terms_out is not None:
            write_terms(of_terms, terms_out)
        currencies = {market.currency for market in markets}
        # The curves are not needed any more, and the records take as much memory.
        markets.clear()
        of_terms.clear()
        package.frames.clear()
        package.counts = None
        ending = out.suffix[1:] if out is not None else ""
        form = format_ or (ending if ending in FORMATS else "jsonl")
        write_readings(
            kind, frames, out if out is not None else sys.stdout.buffer, form,
            currency=currencies.pop() if len(currencies) == 1 else "",
        )  # fmt: skip
        return sum(frame.height for frame in frames)

    count = guarded(work)
    if out is not None:
        report(f"{kind.many(count)} written to {out}.")


COMMANDS = [analyse]
