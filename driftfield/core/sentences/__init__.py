"""What figures mean, in sentences, and the record that holds both."""

from .categories import category_sentences
from .families import chosen_sentence, enough_sentence, served_sentence, year_sentence_of
from .glossary import WORDS, WORDS_BY_KEY, Word
from .money import does_it_pay
from .protected import protected_sentence
from .record import nested, plain, plain_column, record_schema
from .supply import what_buyers_type, what_they_complain_of, who_holds
from .verdict import calendar_answers, demand_answers, season_sentences, verdict

__all__ = [
    "WORDS",
    "WORDS_BY_KEY",
    "Word",
    "calendar_answers",
    "category_sentences",
    "chosen_sentence",
    "demand_answers",
    "does_it_pay",
    "enough_sentence",
    "nested",
    "plain",
    "plain_column",
    "protected_sentence",
    "record_schema",
    "season_sentences",
    "served_sentence",
    "verdict",
    "what_buyers_type",
    "what_they_complain_of",
    "who_holds",
    "year_sentence_of",
]
