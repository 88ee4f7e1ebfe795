"""What figures mean, in sentences, and the record that holds both."""

from .across import across_record, across_said
from .almanac import almanac_sentences, happening_sentences, happening_title
from .categories import (
    brand_sentence,
    category_sentences,
    holders_sentence,
    launches_sentence,
    lorenz_sentence,
    newcomers_sentence,
    openness_sentence,
    prices_sentence,
    returned_sentence,
    settledness_sentence,
    shared_sentence,
    wanted_sentence,
)
from .changes import change_sentence
from .families import (
    chosen_sentence,
    enough_sentence,
    open_sentence,
    served_sentence,
    year_sentence_of,
)
from .glossary import WORDS, WORDS_BY_KEY, Word
from .listings import listing_sentences, missed_text, own_sentence, sleeper_sentences
from .money import does_it_pay
from .orders import left_out_text, orders_sentences, outcome_sentence
from .own_part import comparison_sentence, own_part_sentences, own_total_sentence
from .plans import plan_sentence, plan_warnings
from .proof import forecast_miss, lens_sentence, limits_of, line_sentence, season_miss
from .protected import protected_sentence
from .record import nested, plain, plain_column, record_schema
from .supply import what_buyers_type, what_they_complain_of, what_they_write, who_holds
from .together import together_sentence
from .verdict import (
    calendar_answers,
    date_sentences,
    demand_answers,
    drift_sentence,
    season_sentences,
    shape_sentence,
    verdict,
)

__all__ = [
    "WORDS",
    "WORDS_BY_KEY",
    "Word",
    "across_record",
    "across_said",
    "almanac_sentences",
    "brand_sentence",
    "calendar_answers",
    "category_sentences",
    "change_sentence",
    "chosen_sentence",
    "comparison_sentence",
    "date_sentences",
    "demand_answers",
    "does_it_pay",
    "drift_sentence",
    "enough_sentence",
    "forecast_miss",
    "happening_sentences",
    "happening_title",
    "holders_sentence",
    "launches_sentence",
    "left_out_text",
    "lens_sentence",
    "limits_of",
    "line_sentence",
    "listing_sentences",
    "lorenz_sentence",
    "missed_text",
    "nested",
    "newcomers_sentence",
    "open_sentence",
    "openness_sentence",
    "orders_sentences",
    "outcome_sentence",
    "own_part_sentences",
    "own_sentence",
    "own_total_sentence",
    "plain",
    "plain_column",
    "plan_sentence",
    "plan_warnings",
    "prices_sentence",
    "protected_sentence",
    "record_schema",
    "returned_sentence",
    "season_miss",
    "season_sentences",
    "served_sentence",
    "settledness_sentence",
    "shape_sentence",
    "shared_sentence",
    "sleeper_sentences",
    "together_sentence",
    "verdict",
    "wanted_sentence",
    "what_buyers_type",
    "what_they_complain_of",
    "what_they_write",
    "who_holds",
    "year_sentence_of",
]
