"""An import as a whole: its rows, and the curves of terms, clicks, listings and own sales."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

import numpy as np
import polars as pl
from django.conf import settings
from django.db.models import Count as Number
from django.db.models import F, Max, Min, Model
from django.db.models.functions import Length

from driftfield.core.base import Timeline
from driftfield.exchange.checks import APART, Span
from driftfield.exchange.forms import refusal
from driftfield.exchange.market_data import term_curves
from driftfield.exchange.matrices import Curves, complete_until, curves_of, encode
from driftfield.intake.stored import StoredCurves, curves_of_table
from driftfield.market.many_rows import insert
from driftfield.market.models import (
    Category,
    LeadSeller,
    Listing,
    ListingCurve,
    Market,
    Niche,
    Term,
    TermCurve,
)

from .import_rows import Row, RowsImport
from .upsert import Count, upsert_curves

FEW = 0.5  # Of a market's terms: fewer than this in the weeks that are new is worth a note.


class CurvesImport(RowsImport):
    """The steps of one import, in the order in which tables refer to one another."""

    def run(self) -> dict[str, Count]:
        self._markets()
        self._table("categories", self._categories)
        self._parents()
        self._table("brands", self._people)
        self._table("sellers", self._people)
        self.categories = dict(Category.objects.values_list("category_id", "pk"))
        curves = self._term_curves()
        self._niches_and_terms(curves)
        self._table("listings", self._listings)
        self.listings = dict(Listing.objects.values_list("listing_id", "pk"))
        if curves is not None:
            self._save_terms("term_weeks", curves)
        if "interest" in self.package.frames:
            interest = self._long(_stored("interest"))
            if interest is not None:
                self._save_terms("interest", interest)
        self._term_clicks()
        self._listing_weeks()
        self._table("offers", self._offers)
        self._table("feedback", self._feedback)
        self._table("voices", self._voices)
        self._own_sales()
        self._table("protected_words", self._words)
        return self.counts

    def _term_curves(self) -> Curves | None:
        return term_curves(self.package) if self.package.has_counts else None

    def _long(self, stored: StoredCurves) -> Curves | None:
        """The curves of what is known by one column; None where no line is of such."""
        (subject,), name = stored.keys, stored.name
        frame = self.package.frames[name]
        if subject not in frame.columns:
            return None
        frame = frame.filter(pl.col(subject).is_not_null())
        if not frame.height:
            return None
        return curves_of(frame, subject, self.package.periods[name], stored.measures)

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
                    "the others have a gap; import those as well, or undo this import."
                )

    def _save_terms(self, table: str, curves: Curves) -> None:
        if table == "term_weeks":
            self._warn_of_few(curves)
        subjects = [{"subject_id": self.terms[t]} for t in curves.subjects]
        self._curves(_stored(table), subjects, curves)
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

    def _check_near(self, stored_as: StoredCurves, subjects: list[Row], timeline: Timeline) -> None:
        """Refuse figures that stand years apart from those loaded: a curve would hold all between."""
        period = timeline.period
        model: Any = stored_as.model
        stored = model._default_manager.filter(period=period.value)
        subject: type[Model] = model._meta.get_field("subject").related_model
        if subject is not Listing:  # Listings belong to no market.
            homes = dict(subject._default_manager.values_list("pk", "market_id"))
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
                f"{stored_as.name}.csv",
                f"Its figures go from {timeline.first} to {timeline.end}; those loaded go from "
                f"{span.first} to {span.last}.",
                f"Correct the year. A record has no gap of {APART // 366} years, and goes back {years} "
                "years at most (DRIFTFIELD_RECORD_YEARS).",
            )

    def _curves(self, stored: StoredCurves, subjects: list[Row], curves: Curves) -> None:
        table = stored.name
        self._say(table)
        self._check_near(stored, subjects, curves.timeline)
        total = self.counts.setdefault(table, Count())
        for measure, values in curves.measures.items():
            count = upsert_curves(
                stored.model, measure, subjects, values, curves.timeline.period,
                curves.timeline.first_number, self.journal, file=f"{table}.csv",
            )  # fmt: skip
            total.add(count)

    def _term_clicks(self) -> None:
        frame = self._frame("term_clicks")
        if frame is None:
            return
        stored = _stored("term_clicks")
        pair = pl.concat_str([pl.col("term"), pl.col("listing_id")], separator="\x1f").alias("pair")
        period = self.package.periods["term_clicks"]
        curves = curves_of(frame.with_columns(pair), "pair", period, stored.measures)
        subjects = []
        for text in curves.subjects:
            term, listing = text.split("\x1f")
            subjects.append(
                {
                    "subject_id": self.terms[term],
                    "listing_id": self._listing(listing, "term_clicks"),
                }
            )
        self._curves(stored, subjects, curves)

    def _listing_weeks(self) -> None:
        frame = self._frame("listing_weeks")
        if frame is None:
            return
        stored = _stored("listing_weeks")
        curves = self._long(stored)
        if curves is None:
            return
        subjects = [{"subject_id": self._listing(i, "listing_weeks")} for i in curves.subjects]
        self._curves(stored, subjects, curves)
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

    def _own_sales(self) -> None:
        if "own_sales" not in self.package.frames:
            return
        own = Niche.objects.filter(market__in=self._own_markets())
        niches = dict(own.values_list("niche_id", "pk"))
        for stored in curves_of_table("own_sales"):
            curves = self._long(stored)
            if curves is None:
                continue
            of_niches = stored.whose == "niches"
            subjects = [
                {"subject_id": niches[one] if of_niches else self._listing(one, "own_sales")}
                for one in curves.subjects
            ]
            self._curves(stored, subjects, curves)


def _stored(name: str) -> StoredCurves:
    """How a table is kept whose lines are all of one kind of thing."""
    (stored,) = curves_of_table(name)
    return stored
