"""The words that say nothing by themselves, and those that deny what follows, language by language."""

from __future__ import annotations

from dataclasses import dataclass

REACH = 4  # Words after a negator that it denies; our choice.
DENIED = "not_"


@dataclass(frozen=True, slots=True)
class Language:
    """stop: words that are left out of phrases. negators: words that deny what follows in their sentence, up to
    one of ends, or ``REACH`` words. graded: what goods are called by degrees, and the plain form: who says
    “smaller” says “small”."""

    stop: frozenset[str]
    negators: frozenset[str]
    ends: frozenset[str]
    graded: dict[str, str]


# The commonest function words of Snowball's lists (https://snowballstem.org, from memory), without those that
# deny or measure: “too” and “very” make a difference.
_STOP = {
    "english": """
        i me my we our us you your he him his she her it its they them their this that these those am is are was
        were be been being have has had having do does did doing a an the and or if as of at by for with about
        into through during before after above below to from up down in out on off over under again then once
        here there when where why how all any both each few more most other some such own same so than s t can
        will just should now would could may might must also got get gets one two which who whom what while
        because until
    """,
    "german": """
        ich mich mir mein meine meinen meinem meiner du dich dir dein er ihn ihm sein sie ihr ihnen wir uns
        unser es der die das den dem des ein eine einen einem einer und oder wenn als von bei mit aus zu zum
        zur im in
        an am auf für durch über unter vor nach seit bis hat habe haben hatte hatten ist sind war waren wird
        werden wurde wurden bin dass ob wie was wer wo hier da dann schon noch auch nur so man sich diese dieser
        dieses jetzt kann können muss
    """,
}
_NEGATORS = {
    "english": """
        not no never nothing none without hardly isn't wasn't aren't weren't don't doesn't didn't won't can't
        couldn't wouldn't hasn't haven't hadn't cannot nor
    """,
    "german": "nicht kein keine keinen keinem keiner keinerlei nie niemals nichts ohne kaum weder",
}
_ENDS = {
    "english": "but however though although yet",
    "german": "aber jedoch sondern doch",
}


# Adjectives of goods, whose degrees are told from words that only look like them (“corner”, “letter”). Those
# that change a vowel in German stand with both forms.
_ADJECTIVES = {
    "english": """
        small large big short long narrow wide thin thick heavy light weak strong loud quiet noisy cheap dark
        bright pale dull soft hard stiff smooth rough slow fast quick warm cold cool hot tall deep sharp blunt
        tight loose clean dirty sturdy flimsy shiny rusty easy fine flat wet dry sticky greasy bulky clumsy
        handy
    """,
    "german": """
        klein breit schmal dünn dick schwer leicht schwach laut leise billig hell dunkel weich steif glatt rau
        langsam schnell tief scharf stumpf fest locker sauber handlich stabil wacklig flach nass trocken
        groß:größer kurz:kürzer lang:länger stark:stärker hart:härter warm:wärmer kalt:kälter hoch:höher
    """,
}
_VOWELS = set("aeiou")


def _english_degrees(plain: str) -> list[str]:
    if plain.endswith("e"):
        return [f"{plain}r", f"{plain}st"]
    if plain.endswith("y"):
        return [f"{plain[:-1]}ier", f"{plain[:-1]}iest"]
    ending = plain[-3:]
    short = len(plain) <= 4 and ending[1] in _VOWELS and not _VOWELS & {ending[0], ending[2]}
    stem = plain + plain[-1] if short and plain[-1] not in "wxy" else plain
    return [f"{stem}er", f"{stem}est"]


def _german_degrees(plain: str, given: str) -> list[str]:
    higher = given or f"{plain.removesuffix('e')}er"
    endings = ("", "e", "en", "er", "es", "em")
    return [f"{higher}{ending}" for ending in endings]


def _degrees(language: str) -> dict[str, str]:
    """Every degree of the adjectives of a language, and the plain form."""
    found: dict[str, str] = {}
    for word in _ADJECTIVES.get(language, "").split():
        plain, _, given = word.partition(":")
        forms = _english_degrees(plain) if language == "english" else _german_degrees(plain, given)
        found |= dict.fromkeys(forms, plain)
    return found


_GRADED = {language: _degrees(language) for language in _ADJECTIVES}


def language_of(name: str) -> Language:
    """The words of a language; of another one than these nothing is left out or denied."""
    stop, negators, ends = (
        frozenset(table.get(name, "").split()) for table in (_STOP, _NEGATORS, _ENDS)
    )
    return Language(stop, negators, ends, _GRADED.get(name, {}))
