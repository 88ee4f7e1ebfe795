"""Commands that bring data in, take them out, and analyse what is there."""

from __future__ import annotations

import json
from datetime import date
from pathlib import Path

import click

from .common import (
    Progress,
    database,
    guarded,
    guarded_reading,
    once,
    parse_day,
    report,
    set_up,
    start_django,
)


@click.command("import", short_help="Import FOLDER and analyse what changed.")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option("--check", is_flag=True, help="Show what an import would do, and change nothing.")
@click.option("--no-analysis", is_flag=True, help="Do not analyse now; renew does it later.")
@click.option(
    "--mapping",
    "mapping_file",
    type=click.Path(path_type=Path, dir_okay=False, exists=True),
    help="How to read files of other layouts: the output of bin/driftfield mapping. It is kept, and "
    "used again for files of that layout.",
)
@click.option("--market", default="", metavar="ID", help="The market of new niches that name none.")
def import_(
    folder: Path, check: bool, no_analysis: bool, mapping_file: Path | None, market: str
) -> None:
    """Import the exchange tables in FOLDER into the database and analyse what changed.

    Either everything is imported or nothing. Importing the same files again changes nothing; later weeks
    extend the curves, and a week that is imported again replaces the earlier one. Decisions stay.
    """
    set_up()
    load_package(
        folder, check=check, analyse=not no_analysis, mapping_file=mapping_file, market=market
    )


def _bring_over() -> None:
    from driftfield.home import data_folder, turn
    from driftfield.renewal import bring_over, is_earlier

    start_django()
    with turn(
        data_folder(), "setup", once("Another program is setting the database up; waiting for it …")
    ):
        if is_earlier(database()):
            kept = bring_over(database())
            report(f"The database is up to date; as it was before it is in {kept}.")


@click.command(short_help="Analyse everything again; update an older database.")
def renew() -> None:
    """Analyse everything again; update a database that an earlier version made.

    Figures, decisions, notes, sieves, lenses and costs are kept. A copy of the database as it was stays in
    the data folder, in backups/.
    """
    guarded(_bring_over)
    set_up()
    from driftfield.desk.actions import analyse_all_and_watch

    def work() -> None:
        for run in analyse_all_and_watch(progress=Progress("Analysing")):
            report(run.sentence)

    guarded(work)


@click.command(short_help="Show or change planning date and lead time of MARKET.")
@click.argument("market")
@click.option("--date", "day", callback=parse_day, metavar="DATE", help="The day to plan from.")
@click.option("--as-of", "from_as_of", is_flag=True, help="Plan from the end of the figures again.")
@click.option("--lead-days", type=int, metavar="N", help="Days from ordering to being on sale.")
def planning(market: str, day: date | None, from_as_of: bool, lead_days: int | None) -> None:
    """Show the planning date and lead time of MARKET, or change them.

    \b
    Example:
      bin/driftfield planning north --date 2026-06-01 --lead-days 90
    """
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.desk.write_queue import writing
    from driftfield.market.models import Market
    from driftfield.readings.actions import choose_planning

    def work() -> None:
        found = Market.objects.filter(market_id=market, run__isnull=False).select_related("run")
        if (one := found.first()) is None:
            known = Market.objects.filter(run__isnull=False).values_list("market_id", flat=True)
            raise CoreError(f"There is no analysed market “{market}”. Known: {', '.join(known)}.")
        run = one.run
        if day is not None or from_as_of or lead_days is not None:
            chosen = None if from_as_of else day or run.planning_date
            lead = int(run.settings["lead_days"]) if lead_days is None else lead_days
            with writing():
                run = choose_planning(one, chosen, lead)
        report(
            f"{one.name}: figures up to {run.as_of}; planned from {run.planning}; {run.settings['lead_days']} "
            f"days to being on sale, {run.arrival}."
        )

    guarded(work)


@click.command("settings", short_help="Show or change the settings of MARKET.")
@click.argument("market")
@click.option(
    "--set",
    "pairs",
    multiple=True,
    metavar="KEY=VALUE",
    help="Change a setting, as in --set review_limit=120; may be repeated. docs/method.md lists them.",
)
@click.option(
    "--reset",
    "resets",
    multiple=True,
    metavar="KEY",
    help="Set back to the default; with --niche, to the market's.",
)
@click.option(
    "--niche",
    metavar="ID",
    help="For this niche alone: lead_days, target_income or review_limit.",
)
@click.option("--language", metavar="NAME", help="Language of its terms, as in --language spanish.")
def settings_(
    market: str,
    pairs: tuple[str, ...],
    resets: tuple[str, ...],
    niche: str | None,
    language: str | None,
) -> None:
    """Show which settings of MARKET differ from their defaults, or change them and analyse again as needed.

    \b
    Example:
      bin/driftfield settings north --set target_income=20000 --set tax_rate=0.2
    """  # fmt: skip
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.desk.actions import analyse_and_watch
    from driftfield.desk.write_queue import writing
    from driftfield.market.models import Market
    from driftfield.readings.actions import (
        choose_language,
        choose_settings,
        overrule,
        pending,
    )
    from driftfield.readings.chosen import changed_for, chosen_for, overruled

    def work() -> None:
        one = Market.objects.filter(market_id=market, run__isnull=False).first()
        if one is None:
            known = Market.objects.filter(run__isnull=False).values_list("market_id", flat=True)
            raise CoreError(f"There is no analysed market “{market}”. Known: {', '.join(known)}.")
        if language is not None:
            with writing():
                choose_language(one, language.lower())
        changed: dict[str, float | None] = dict.fromkeys(resets)
        for pair in pairs:
            key, _, text = pair.partition("=")
            try:
                changed[key] = float(text)
            except ValueError:
                raise CoreError(
                    f"“{pair}” is not a setting: write key=value, as in review_limit=120."
                ) from None
        if niche is not None:
            with writing():
                found = overrule(one, niche, changed) if changed else overruled(market, niche)
            report(f"{one.name}, {niche}: {_listed(found) or 'as the market'}.")
            return
        if changed:
            with writing():
                choose_settings(one, changed)
            if waiting := pending(one.run):
                report(f"{', '.join(waiting)} need a new analysis.")
                report(analyse_and_watch(one, progress=Progress("Analysing")).sentence)
        spoken = chosen_for(market).language.capitalize()
        report(
            f"{one.name}: {_listed(changed_for(market)) or 'all settings as they come'}; terms in {spoken}."
        )

    guarded(work)


def _listed(settings: dict[str, float]) -> str:
    return ", ".join(f"{key}={value:g}" for key, value in sorted(settings.items()))


@click.command("undo-import", short_help="Undo the latest import.")
def undo_import() -> None:
    """Undo the latest import and analyse what is left; decisions stay.

    A copy of the database as it was before is kept.
    """
    set_up()
    from driftfield.desk.actions import analyse_all_and_watch
    from driftfield.intake.actions import undo_batch
    from driftfield.keeping import keep_before

    def work() -> None:
        batch = undo_batch(lambda: keep_before(database(), "undo"))
        report(f"{batch.source} of {batch.made_at:%d %b %Y, %H:%M} is undone.")
        for run in analyse_all_and_watch(progress=Progress("Analysing")):
            report(run.sentence)

    guarded(work)


def load_package(
    folder: Path,
    *,
    check: bool = False,
    analyse: bool = True,
    mapping_file: Path | None = None,
    market: str = "",
) -> None:
    """Import, and analyse what changed."""
    from driftfield.desk.actions import analyse_all_and_watch
    from driftfield.exchange.mapping import read_document
    from driftfield.intake.actions import import_folder, keep_mapping

    def work() -> None:
        line = Progress("Importing")
        wait = once("Another import is being written; waiting for it …")

        def progress(step: str, done: int, whole: int) -> None:
            if step.startswith("Waiting"):
                wait()
            line(done, whole)

        mappings = read_document(mapping_file) if mapping_file else {}
        batch = import_folder(
            folder,
            dry_run=check,
            progress=progress,
            mappings={layout: mapping for layout, (_, mapping) in mappings.items()},
            market=market,
        )
        for layout, (names, mapping) in ({} if check else mappings).items():
            keep_mapping(layout, names, mapping)
        for note in batch.notes:
            report(f"Note: {note}")
        report(batch.sentence)
        if check:
            report("This was a check; nothing was changed.")
        if check or not analyse:
            return
        for run in analyse_all_and_watch(only_stale=True, progress=Progress("Analysing")):
            report(run.sentence)

    guarded(work)


@click.command(short_help="Export everything to FOLDER as exchange tables.")
@click.argument("folder", type=click.Path(path_type=Path, file_okay=False))
@click.option("--market", metavar="ID", help="Only this market and what belongs to it.")
@click.option(
    "--for-spreadsheets",
    is_flag=True,
    help="Put an apostrophe before text that a spreadsheet would run as a formula. Such text is "
    "not the same when it is imported again.",
)
def export(folder: Path, market: str | None, for_spreadsheets: bool) -> None:
    """Export everything in the database to FOLDER as exchange tables with a datapackage.json."""
    set_up()
    from driftfield.core.base import CoreError
    from driftfield.intake.actions import export_folder
    from driftfield.intake.scope import Scope, everything, of_market
    from driftfield.market.models import Market

    def scope() -> Scope:
        if market is None:
            return everything()
        found = Market.objects.filter(market_id=market).first()
        if found is None:
            known = ", ".join(Market.objects.values_list("market_id", flat=True)) or "none"
            raise CoreError(f"There is no market “{market}”; there are: {known}.")
        return of_market(found)

    def work() -> None:
        for line in export_folder(folder, scope(), for_spreadsheets=for_spreadsheets):
            report(line)

    guarded_reading(work)


@click.command(short_help="Propose how files of other layouts can be read.")
@click.argument("path", type=click.Path(path_type=Path))
def mapping(path: Path) -> None:
    """Propose, as JSON to be corrected, how files in PATH that are not exchange tables can be read.

    \b
    Example:
      bin/driftfield mapping downloads > mapping.json
      bin/driftfield import downloads --mapping mapping.json
    """  # fmt: skip
    from driftfield.exchange.mapping import proposals

    found = guarded(lambda: proposals(path))
    click.echo(json.dumps(found, indent=2, ensure_ascii=False))
    for one in found:
        for doubt in one["doubts"]:
            report(f"{one['files'][0]}: {doubt}")
        if not one["mapping"]["table"]:
            report(f"{one['files'][0]}: no table was recognised; it would be skipped.")


@click.command(short_help="Pull from the market feed and analyse what changed.")
def pull() -> None:
    """Pull new, late and revised figures from the market feed, and analyse what changed.

    DRIFTFIELD_FEED_URL says where the feed is; by default it is the simulated one on this machine. An
    interrupted pull resumes where it stopped; pulling again when nothing is new changes nothing.
    """
    set_up()
    from driftfield.desk.actions import analyse_all_and_watch
    from driftfield.intake.actions import pull_feed

    def work() -> None:
        for batch in pull_feed():
            for note in batch.notes:
                report(f"Note: {note}")
            report(batch.sentence)
        for run in analyse_all_and_watch(only_stale=True, progress=Progress("Analysing")):
            report(run.sentence)

    guarded(work)


@click.command("feed-sim", short_help="Run a simulated market feed of PACKAGE.")
@click.argument("package", type=click.Path(path_type=Path, exists=True))
@click.option("--port", default=8765, show_default=True, type=click.IntRange(1, 65535))
@click.option(
    "--faults",
    type=click.Choice(["none", "some", "worst"]),
    default="some",
    show_default=True,
    help="How often the feed refuses, fails, breaks off or is slow.",
)
@click.option(
    "--to-come",
    default=0,
    show_default=True,
    type=click.IntRange(0),
    help="Weeks of PACKAGE still to be released when the simulation begins.",
)
@click.option(
    "--further",
    default=26,
    show_default=True,
    type=click.IntRange(0),
    help="Weeks made up after the end of PACKAGE.",
)
@click.option(
    "--week-every",
    default=60.0,
    show_default=True,
    type=click.FloatRange(0.1),
    metavar="SECONDS",
    help="Seconds until the next week is released.",
)
@click.option(
    "--seed",
    default=1,
    show_default=True,
    help="Where the chance of faults and made-up weeks starts.",
)
def feed_sim(
    package: Path, port: int, faults: str, to_come: int, further: int, week_every: float, seed: int
) -> None:
    """Run a simulated market feed on 127.0.0.1 that releases the figures of PACKAGE week by week.

    Some figures come late and some are revised; --faults says how often it refuses, fails, breaks off or
    is slow. schemas/feed.openapi.json describes it. The client is “driftfield”, its secret
    “only-a-simulation”.
    """  # fmt: skip
    from driftfield.feedsim.serve import Plan, serve_on
    from driftfield.serving import check_port

    guarded(lambda: check_port(port))
    plan = Plan(str(package.resolve()), port, to_come, further, week_every, faults, seed)
    serve_on(plan)


COMMANDS: tuple[click.Command, ...] = (
    import_, undo_import, renew, planning, settings_, export, mapping, pull, feed_sim,
)  # fmt: skip
