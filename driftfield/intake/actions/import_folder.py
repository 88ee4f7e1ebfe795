"""Import a folder or zip of exchange tables: all of it or nothing."""

from __future__ import annotations

import getpass
import hashlib
from collections.abc import Callable, Iterable, Iterator, Mapping
from concurrent.futures import ThreadPoolExecutor
from contextlib import AbstractContextManager
from datetime import date, timedelta
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
from django.conf import settings
from django.db import transaction
from django.db.models import Count as Number
from django.db.models import F, Max, Min
from django.db.models.functions import Length

from driftfield.core.base import Timeline
from driftfield.exchange.checks import APART, Span
from driftfield.exchange.forms import refusal
from driftfield.exchange.mapping import Agreed
from driftfield.exchange.mapping import Mapping as FileMapping
from driftfield.exchange.market_data import LONE_MARKET, niche_ids, term_curves
from driftfield.exchange.matrices import Curves, complete_until, curves_of, encode
from driftfield.exchange.progress import Progress, untold
from driftfield.exchange.reader import Package, read_package
from driftfield.home import turn
from driftfield.intake.models import Batch
from driftfield.market.many_rows import insert
from driftfield.market.models import (
    Brand,
    Category,
    ClickCurve,
    Feedback,
    LeadSeller,
    Listing,
    ListingCurve,
    Market,
    Niche,
    Offer,
    SalesCurve,
    Seller,
    Term,
    TermCurve,
)  # fmt: skip

from .journal import Journal
from .mappings import kept_mappings
from .upsert import Count, upsert, upsert_curves

Row = dict[str, Any]
FEW = 0.5  # Of a market's terms: fewer than this in the weeks that are new is worth a note.


def import_folder(
    path: Path,
    *,
    dry_run: bool = False,
    progress: Progress = untold,
    source: str = "",
    cap: int | None = None,
    mappings: Mapping[str, FileMapping] | None = None,
    market: str = "",
    in_turn: bool = False,
) -> Batch:
    """Import ``path`` in one transaction and return what it did.

    ``source`` is what the batch is called, by default the path's name; ``cap`` how many problems are
    kept in full. ``mappings`` says how files of other layouts are read, by key of the layout; where it
    says nothing, they are read as such files were before. ``market`` is the id of the one that new niches
    belong to which name none. ``in_turn``: the caller has the ``import_turn`` already.

    The batch is saved, with what it takes to undo it, only when something changed. ``dry_run``: all is
    done and taken back, so that the counts are those an import would have. ``progress`` is told how far the
    work is, and may raise to end it. Raises ExchangeError with every problem when the files are not
    right; the database is then as it was.
    """
    if in_turn:
        return _import(path, dry_run, progress, source, cap, mappings, market)
    with import_turn(progress):
        return _import(path, dry_run, progress, source, cap, mappings, market)


def import_turn(progress: Progress) -> AbstractContextManager[None]:
    """One import at a time changes the data; the next one waits, which ``progress`` is told."""
    return turn(
        settings.DATA_DIR, "import", lambda: progress("Waiting for another import to end", 0, 0)
    )


def _import(
    path: Path,
    dry_run: bool,
    progress: Progress,
    source: str,
    cap: int | None,
    mappings: Mapping[str, FileMapping] | None,
    market: str,
) -> Batch:
    progress("Looking at the files", 0, 0)
    files = _files(path)
    before = [_stamp(file) for file in files]
    # The sum over all bytes is reckoned beside the reading.
    with ThreadPoolExecutor(1) as beside:
        reckoned = beside.submit(_digest, files)
        agreed = Agreed(mappings or {}, kept_mappings())
        package = read_package(
            path,
            known=_known(),
            progress=progress,
            cap=cap,
            agreed=agreed,
            record_years=settings.RECORD_YEARS,
        )
        files_sum = reckoned.result()
    for file, stamp in zip(files, before, strict=True):
        if not file.exists() or _stamp(file) != stamp:
            raise refusal(
                file.name, "It was changed while it was read.", "Import it again when it is whole."
            )
    batch = Batch(
        source=source or path.name, digest=files_sum, notes=package.notes, by=_account(),
        mappings={file: mapping.as_dict() for file, mapping in package.mappings.items()},
    )  # fmt: skip

    with transaction.atomic():
        journal = Journal()
        counts = _Import(package, journal, progress, market).run()
        batch.counts = {table: count.as_dict() for table, count in counts.items()}
        if dry_run:
            transaction.set_rollback(True)
        elif batch.changed:
            progress("Keeping what it takes to undo it", 0, 0)
            batch.save()
            journal.save(batch)
    return batch


def _files(path: Path) -> list[Path]:
    if not path.is_dir():
        return [path]
    return sorted(p for p in path.iterdir() if p.is_file() and not p.name.startswith("."))


def _stamp(file: Path) -> tuple[int, int] | None:
    """Size and time of the last change; None where there is no such file, which the reader will say."""
    if not file.exists():
        return None
    found = file.stat()
    return found.st_size, found.st_mtime_ns


def _account() -> str:
    """The name of the account at work; none where the system has none."""
    try:
        return getpass.getuser()
    except (OSError, KeyError):
        return ""


def _digest(files: list[Path]) -> str:
    """BLAKE2b (RFC 7693, 256 bits) over names and contents of the files; half of SHA-256's time."""
    digest = hashlib.blake2b(digest_size=32)
    for file in files:
        if not file.exists():
            continue
        digest.update(file.name.encode())
        with file.open("rb") as f:
            while block := f.read(1 << 23):
                digest.update(block)
    return digest.hexdigest()


def _known() -> dict[str, set[str]]:
    """Ids that are loaded already, by table; empty when nothing is."""
    sources: dict[str, tuple[Any, str]] = {
        "markets": (Market, "market_id"), "categories": (Category, "category_id"),
        "niches": (Niche, "niche_id"), "terms": (Term, "term"), "listings": (Listing, "listing_id"),
        "brands": (Brand, "id"), "sellers": (Seller, "id"),
    }  # fmt: skip
    found = {t: set(m.objects.values_list(f, flat=True)) for t, (m, f) in sources.items()}
    return {table: ids for table, ids in found.items() if ids}


class _Import:
    """The steps of one import, in the order in which tables refer to one another."""

    def __init__(self, package: Package, journal: Journal, progress: Progress, market: str) -> None:
        self.market = market
        self.package = package
        self.journal = journal
        self.progress = progress
        self.counts: dict[str, Count] = {}

    def run(self) -> dict[str, Count]:
        self._markets()
        self._simple("categories", Category, ["category_id"], self._categories)
        self._parents()
        self._simple("brands", Brand, ["id"], self._people)
        self._simple("sellers", Seller, ["id"], self._people)
        self.categories = dict(Category.objects.values_list("category_id", "pk"))
        curves = self._term_curves()
        self._niches_and_terms(curves)
        self._simple("listings", Listing, ["listing_id"], self._listings)
        self.listings = dict(Listing.objects.values_list("listing_id", "pk"))
        if curves is not None:
            self._save_terms("term_weeks", curves)
        if "interest" in self.package.frames:
            self._save_terms("interest", self._long("interest", "term", ["index"]))
        self._term_clicks()
        self._listing_weeks()
        self._simple("offers", Offer, ["seller_id", "listing_id", "first_seen"], self._offers)
        self._simple(
            "feedback", Feedback, ["listing_id", "kind", "theme", "tone", "week"], self._feedback
        )
        self._own_sales()
        return self.counts

    def _frame(self, name: str) -> pl.DataFrame | None:
        return self.package.frames.get(name)

    def _text(self, name: str, column: str) -> list[str]:
        """Different texts of a table's column, in their order; none without the table or the column."""
        frame = self._frame(name)
        if frame is None or column not in frame.columns:
            return []
        return frame[column].drop_nulls().unique(maintain_order=True).to_list()

    def _simple(
        self, name: str, model: Any, key: list[str], rows: Callable[[pl.DataFrame], Iterator[Row]]
    ) -> None:
        frame = self._frame(name)
        if frame is not None:
            self._say(name)
            self.counts[name] = self._upsert(model, key, rows(frame))

    def _upsert(self, model: Any, key: list[str], rows: Iterable[Row]) -> Count:
        return upsert(model, key, rows, self.journal)

    def _say(self, table: str) -> None:
        self.progress(f"Writing {table}", 0, 0)

    def _markets(self) -> None:
        frame = self._frame("markets")
        if frame is not None:
            rows = ({**r, "region": r.get("region") or ""} for r in frame.iter_rows(named=True))
            self.counts["markets"] = self._upsert(Market, ["market_id"], rows)
        elif not Market.objects.exists():
            # Nothing says what they are called, so the ids that niches name stand for the names.
            named = self._text("niches", "market_id") or [LONE_MARKET]
            rows = ({"market_id": m, "name": m if m != LONE_MARKET else "Market"} for m in named)
            self.counts["markets"] = self._upsert(Market, ["market_id"], rows)
        self.markets = dict(Market.objects.values_list("market_id", "pk"))

    def _categories(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            yield {"category_id": row["category_id"], "name": row["name"]}

    def _parents(self) -> None:
        frame = self._frame("categories")
        if frame is None or "parent_id" not in frame.columns:
            return
        pk = dict(Category.objects.values_list("category_id", "pk"))
        rows = (
            {"category_id": r["category_id"], "parent_id": pk.get(r["parent_id"])}
            for r in frame.iter_rows(named=True)
        )
        moved = self._upsert(Category, ["category_id"], rows).changed
        count = self.counts["categories"]
        count.changed += max(0, moved - count.new)

    def _people(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            if "own_retail" in row:
                row["own_retail"] = _flag(row["own_retail"])
            yield row

    def _term_curves(self) -> Curves | None:
        return term_curves(self.package) if self.package.has_counts else None

    def _long(self, name: str, subject: str, measures: list[str]) -> Curves:
        return curves_of(self.package.frames[name], subject, self.package.periods[name], measures)

    def _market_of(self, given: str | None, niche: str) -> int:
        """Market of a niche: the one it names; else the one asked for, the package's first, the only one."""
        frame = self._frame("markets")
        if given is None:
            if self.market:
                given = self.market
            elif frame is not None:
                given = frame["market_id"][0]
            elif len(self.markets) == 1:
                given = next(iter(self.markets))
            else:
                raise refusal(
                    "niches.csv", f"Several markets are loaded, and “{niche}” is new and names none.",
                    "Give it a line with its market_id, or say of which market the files are: below “How the "
                    "files are read”, or with --market.",
                )  # fmt: skip
        if given not in self.markets:
            known = ", ".join(self.markets)
            raise refusal("niches.csv", f"There is no market “{given}”.", f"Choose one of {known}.")
        return self.markets[given]

    def _niches_and_terms(self, curves: Curves | None) -> None:
        niche_frame, term_frame = self._frame("niches"), self._frame("terms")
        existing = {n.niche_id: n for n in Niche.objects.only("niche_id", "market_id", "of_term")}
        rows: dict[str, Row] = {}
        for row in niche_frame.iter_rows(named=True) if niche_frame is not None else ():
            old = existing.get(row["niche_id"])
            market = row.get("market_id")
            fields: Row = {
                "market_id": old.market_id
                if old and market is None
                else self._market_of(market, row["niche_id"]),
                "niche_id": row["niche_id"],
                "name": row["name"],
            }
            if "category_id" in row:
                fields["category_id"] = self.categories.get(row["category_id"])
            rows[row["niche_id"]] = fields

        loaded = dict(Term.objects.values_list("term", "niche__niche_id"))
        terms: list[str] = list(curves.subjects) if curves else []
        for name in ("terms", "interest"):
            if (frame := self._frame(name)) is not None:
                terms += frame["term"].unique(maintain_order=True).to_list()
        terms = list(dict.fromkeys(terms))
        stated: dict[str, str] = {t: loaded[t] for t in terms if t in loaded}
        branded: dict[str, float | None] = {}
        for row in term_frame.iter_rows(named=True) if term_frame is not None else ():
            if row.get("niche_id") is not None:
                stated[row["term"]] = row["niche_id"]
            if "branded" in row:
                branded[row["term"]] = row["branded"]
        declared = {**{n: n for n in existing if not existing[n].of_term}, **{n: n for n in rows}}
        owner = niche_ids(terms, stated, declared)
        for term, niche in owner.items():
            if niche not in rows and niche not in existing:
                alone = term not in stated
                rows[niche] = {"market_id": self._market_of(None, niche), "niche_id": niche,
                               "name": term if alone else niche, "of_term": alone}  # fmt: skip
        self.counts["niches"] = self._upsert(Niche, ["market_id", "niche_id"], rows.values())
        niches = {
            n: (m, pk) for n, m, pk in Niche.objects.values_list("niche_id", "market_id", "pk")
        }
        term_rows = []
        for term in terms:
            market, niche_pk = niches[owner[term]]
            fields = {"market_id": market, "niche_id": niche_pk, "term": term}
            if term in branded:
                fields["branded"] = _flag(branded[term])
            term_rows.append(fields)
        self.counts["terms"] = self._upsert(Term, ["market_id", "term"], term_rows)
        self.terms = dict(Term.objects.values_list("term", "pk"))

    def _warn_of_few(self, curves: Curves) -> None:
        """Note where weeks come for few of a market's terms: the others will look as if they had stopped."""
        period, start = curves.timeline.period, curves.timeline.first_number
        stored = TermCurve.objects.filter(measure="searches", period=period.value)
        ends = stored.values_list("subject__market").annotate(
            end=Max(F("first") + Length("values") / 4), many=Number("pk")
        )
        known = ~np.isnan(curves.measures["searches"])
        last = start + curves.timeline.length - known[:, ::-1].argmax(axis=1)
        homes = dict(Term.objects.values_list("pk", "market_id"))
        market = np.array([homes[self.terms[t]] for t in curves.subjects])
        for pk, end, many in ends:
            came = int(((market == pk) & (last > end) & known.any(axis=1)).sum())
            if 0 < came < FEW * many:
                name = Market.objects.get(pk=pk).name
                self.package.notes.append(
                    f"{name}: after {period.start(end) - timedelta(days=1):%-d %b %Y} there are figures of "
                    f"{came:,} of {many:,} terms only. The market is read up to the last of them, where "
                    "the others have a gap; bring those as well, or take this back."
                )

    def _save_terms(self, table: str, curves: Curves) -> None:
        if table == "term_weeks":
            self._warn_of_few(curves)
        subjects = [{"subject_id": self.terms[t]} for t in curves.subjects]
        self._curves(table, TermCurve, subjects, curves)
        if table == "term_weeks":
            given = {s["subject_id"] for s in subjects}
            owners = {m for t, m in Term.objects.values_list("pk", "market_id") if t in given}
            self._note_complete(owners, curves.timeline.end)

    def _note_complete(self, markets: set[int], end: date) -> None:
        """Until when the figures of ``markets`` are complete, which go to ``end`` in this package.

        A package that does not say takes nothing from what an earlier one said of the same weeks; of
        later weeks nothing is known then.
        """
        until = complete_until(self.package.created)
        changed = Market.objects.filter(pk__in=markets)
        if until is None:
            changed = changed.exclude(complete_until__gte=end)
        changed.update(complete_until=until)

    def _check_near(self, table: str, model: Any, subjects: list[Row], timeline: Timeline) -> None:
        """Refuse figures that stand years apart from those loaded: a curve would hold all between."""
        period = timeline.period
        stored = model.objects.filter(period=period.value)
        if model is not ListingCurve:  # Listings belong to no market.
            kind = Niche if model is SalesCurve else Term
            homes = dict(kind.objects.values_list("pk", "market_id"))
            stored = stored.filter(subject__market__in={homes[s["subject_id"]] for s in subjects})
        ends = stored.aggregate(start=Min("first"), end=Max(F("first") + Length("values") / 4))
        if ends["start"] is None:
            return
        span = Span(period.start(ends["start"]), period.start(ends["end"] - 1))
        both = span.with_(Span(timeline.first, timeline.start(timeline.length - 1)))
        years = settings.RECORD_YEARS
        apart = min(span.apart(timeline.first), span.apart(timeline.end))
        if apart or (both.last - both.first).days > years * 365.25:
            raise refusal(
                f"{table}.csv",
                f"Its figures go from {timeline.first} to {timeline.end}; those loaded go from "
                f"{span.first} to {span.last}.",
                f"Correct the year. A record has no gap of {APART // 366} years, and goes back {years} "
                "years at most (DRIFTFIELD_RECORD_YEARS).",
            )

    def _curves(self, table: str, model: Any, subjects: list[Row], curves: Curves) -> None:
        self._say(table)
        self._check_near(table, model, subjects, curves.timeline)
        total = self.counts.setdefault(table, Count())
        for measure, values in curves.measures.items():
            count = upsert_curves(
                model, measure, subjects, values, curves.timeline.period,
                curves.timeline.first_number, self.journal, file=f"{table}.csv",
            )  # fmt: skip
            total.add(count)

    def _term_clicks(self) -> None:
        frame = self._frame("term_clicks")
        if frame is None:
            return
        pair = pl.concat_str([pl.col("term"), pl.col("listing_id")], separator="\x1f").alias("pair")
        period = self.package.periods["term_clicks"]
        curves = curves_of(
            frame.with_columns(pair), "pair", period, ["click_share", "purchase_share"]
        )
        subjects = []
        for text in curves.subjects:
            term, listing = text.split("\x1f")
            subjects.append(
                {
                    "subject_id": self.terms[term],
                    "listing_id": self._listing(listing, "term_clicks"),
                }
            )
        self._curves("term_clicks", ClickCurve, subjects, curves)

    def _listing(self, listing_id: str, table: str) -> int:
        """A listing that is only known from another table is made, titled by its id."""
        if listing_id not in self.listings:
            made = Listing.objects.create(listing_id=listing_id, title=listing_id)
            self.listings[listing_id] = made.pk
        return self.listings[listing_id]

    def _listing_weeks(self) -> None:
        frame = self._frame("listing_weeks")
        if frame is None:
            return
        measures = ["price", "units", "sales_rank", "reviews", "offers", "in_stock"]
        curves = self._long("listing_weeks", "listing_id", measures)
        subjects = [{"subject_id": self._listing(i, "listing_weeks")} for i in curves.subjects]
        self._curves("listing_weeks", ListingCurve, subjects, curves)
        if "lead_seller_id" in frame.columns:
            self._lead_sellers(frame, subjects)

    def _lead_sellers(self, frame: pl.DataFrame, subjects: list[Row]) -> None:
        """Who held the lead offer: a curve of the sellers' numbers."""
        given, code = encode(frame["lead_seller_id"].fill_null(""))
        known = set(LeadSeller.objects.values_list("seller_id", flat=True))
        insert(LeadSeller, ({"seller_id": s} for s in given if s and s not in known))
        number = dict(LeadSeller.objects.values_list("seller_id", "pk"))
        numbers = np.array([number.get(s, np.nan) for s in given], dtype=np.float64)[code]
        held = frame.select("listing_id", "week").with_columns(lead_seller=pl.Series(numbers))
        curves = curves_of(
            held, "listing_id", self.package.periods["listing_weeks"], ["lead_seller"]
        )
        if "lead_seller" not in curves.measures:
            return
        count = upsert_curves(
            ListingCurve, "lead_seller", subjects, curves.measures["lead_seller"],
            curves.timeline.period, curves.timeline.first_number, self.journal,
            file="listing_weeks.csv",
        )  # fmt: skip
        self.counts["listing_weeks"].add(count)

    def _listings(self, frame: pl.DataFrame) -> Iterator[Row]:
        attributes = [c for c in frame.columns if c.startswith("attr_")]
        for row in frame.iter_rows(named=True):
            if attributes:
                row["attributes"] = {a[5:]: v for a in attributes if (v := row.pop(a)) is not None}
            if "category_id" in row:
                row["category_id"] = self.categories.get(row["category_id"])
            if "sponsored" in row:
                row["sponsored"] = _flag(row["sponsored"])
            yield row

    def _offers(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            yield {**row, "listing_id": self._listing(row["listing_id"], "offers")}

    def _feedback(self, frame: pl.DataFrame) -> Iterator[Row]:
        for row in frame.iter_rows(named=True):
            listing = self._listing(row["listing_id"], "feedback")
            yield {"week": None, **row, "listing_id": listing}

    def _own_sales(self) -> None:
        if "own_sales" not in self.package.frames:
            return
        curves = self._long("own_sales", "niche_id", ["units", "revenue"])
        niches = dict(Niche.objects.values_list("niche_id", "pk"))
        self._curves(
            "own_sales", SalesCurve, [{"subject_id": niches[n]} for n in curves.subjects], curves
        )


def _flag(value: float | None) -> bool | None:
    return None if value is None else bool(value)
