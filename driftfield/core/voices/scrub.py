"""Blanking what tells who somebody is: addresses of mail and web, numbers, names after a title, streets."""

from __future__ import annotations

import re

BLANK = "[…]"
# A mail address as in RFC 5322 without quoted local parts; an address of the web as in RFC 3986.
_MAIL = r"[\w.!#$%&'*+/=?^`{|}~-]{1,64}@[\w-]{1,63}(?:\.[\w-]{1,63}){1,8}"
_WEB = r"(?:https?://|www\.)[^\s<>\"]+"
_HANDLE = r"(?<![\w.])@\w{3,}"
# Numbers of telephones (E.164 has up to 15 digits), cards (ISO/IEC 7812, up to 19), accounts: seven digits or
# more, whatever stands between them; a year or a measure has fewer.
_NUMBER = r"(?<![\w.,])\+?(?:\(?\d[\d()]*[\s./–-]{0,2}){6,18}\d(?!\w)"
_ACCOUNT = r"\b[A-Z]{2}\d{2}(?:\s?[A-Z0-9]{4}){2,7}(?:\s?[A-Z0-9]{1,4})?\b"  # ISO 13616
_POSTCODE = r"\b[A-Z]{1,2}\d[A-Z\d]?\s?\d[A-Z]{2}\b"  # of the United Kingdom (BS 7666)
_TITLED = r"[A-ZÄÖÜ][\wäöüß'’-]{1,40}"
_STREET = (
    r"\b\d{1,4}[a-z]?,?\s+(?:[A-Z][\w'’]{1,40}\s+){1,3}"
    r"(?:Street|St|Road|Rd|Lane|Avenue|Ave|Close|Drive|Way|Court|Row)\b"
    r"|\b[A-ZÄÖÜ][\wäöüß-]{0,40}(?:straße|strasse|str\.|weg|gasse|allee|platz)\s+\d{1,4}[a-z]?\b"
)
_NAMED = rf"\b(?:Mr|Mrs|Ms|Miss|Dr|Prof|Sir|Herr|Frau)\.?\s+{_TITLED}(?:\s+{_TITLED})?"
_CALLED = rf"(?<=[Mm]y name is ){_TITLED}(?:\s+{_TITLED})?|(?<=[Mm]ein Name ist ){_TITLED}(?:\s+{_TITLED})?"
_TOLD = re.compile(
    "|".join((_WEB, _MAIL, _ACCOUNT, _STREET, _POSTCODE, _NAMED, _CALLED, _HANDLE, _NUMBER))
)


def scrubbed(text: str) -> str:
    """A text without what tells who somebody is; ``BLANK`` stands for each piece.

    >>> scrubbed("Write to jo.fell@example.org or ring +44 20 7946 0958, Mrs Fell")
    'Write to […] or ring […], […]'
    """
    return _TOLD.sub(BLANK, text)
