"""Send the digest of a market by mail, through the settings of Django."""

from __future__ import annotations

from collections.abc import Sequence

from django.core.exceptions import ValidationError
from django.core.mail import EmailMessage
from django.core.validators import validate_email

from driftfield.core.base import CoreError, format_day
from driftfield.desk.watch import digest
from driftfield.desk.watch.out import digest_text
from driftfield.market.models import Market


def mail_digest(market: Market, addresses: Sequence[str], url: str = "") -> bool:
    """Mail what was told and not seen yet; whether there was anything to mail.

    Nothing is marked as seen by it. Raises CoreError for an address that is none, and where the mail server
    does not take it.
    """
    for address in addresses:
        try:
            validate_email(address)
        except ValidationError:
            raise CoreError(f"“{address}” is not an e-mail address.") from None
    found = digest(market)
    many = len(found["changes"]) + len(found["sieves"])
    if not many and not found["due"]:
        return False
    title = f"{market.name}: {many or 'no'} {'change' if many == 1 else 'changes'}"
    message = EmailMessage(
        subject=" ".join(f"{title}, as of {format_day(found['as_of'])}".split()),
        body=digest_text(found, url),
        to=list(addresses),
    )
    try:
        message.send()
    except OSError as error:
        raise CoreError(
            f"The mail server does not take it: {error}. Check DRIFTFIELD_MAIL_HOST and what belongs to it."
        ) from None
    return True
