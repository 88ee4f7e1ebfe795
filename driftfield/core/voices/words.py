"""The words that say nothing by themselves, and those that deny what follows, language by language."""

from __future__ import annotations

from dataclasses import dataclass

REACH = 4  # Words after a negator that it denies; our choice.
DENIED = "not_"


@dataclass(frozen=True, slots=True)
class Language:
    """stop: words that are left out of phrases. negators: words that deny what follows in their sentence, up to
    one of ends, or ``REACH`` words."""

    stop: frozenset[str]
    negators: frozenset[str]
    ends: frozenset[str]


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


def language_of(name: str) -> Language:
    """The words of a language; of another one than these nothing is left out or denied."""
    stop, negators, ends = (
        frozenset(table.get(name, "").split()) for table in (_STOP, _NEGATORS, _ENDS)
    )
    return Language(stop, negators, ends)
