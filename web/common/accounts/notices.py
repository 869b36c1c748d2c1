"""A mail to the owner for each change of what lets somebody into the account."""

import logging
from typing import Final

from django.core.mail import send_mail
from django.db import transaction
from django.template.loader import render_to_string

from web.common.accounts.models import User
from web.common.ui.logs import event

logger = logging.getLogger(__name__)
CHANGED: Final = "The password was changed."
CODES_END: Final = (
    "The password was changed by the link in a mail. A code is asked for beside it for one more day, and then no "
    "more: whoever signs in with a code until then keeps the codes."
)


def tell_owner(owner: User, what: str, to: str = "") -> None:
    """Mails what was changed, to the owner's address or to the one that was theirs; a mail that does not go stops
    nothing."""
    words = render_to_string("accounts/notice_mail.txt", {"user": owner, "what": what})

    def send() -> None:
        try:
            send_mail("Your account on Wax Crate was changed", words, None, [to or owner.email])
        except OSError as error:
            logger.warning(event("mail-not-sent", why=type(error).__name__))

    if to or owner.email:
        transaction.on_commit(send)
