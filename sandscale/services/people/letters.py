"""Letters to people outside, by SMTP: to a real relay, or to the mailbox that stands in for one."""

from __future__ import annotations

import smtplib
import ssl
from email.message import EmailMessage
from email.utils import formatdate, make_msgid
from mimetypes import guess_type
from urllib.parse import unquote, urlsplit

from ...settings import mail, mail_from
from ..keeping.jobs import Later

PATIENCE = 20.0  # seconds


def send(to: str, subject: str, text: str, file: tuple[str, bytes] | None = None) -> None:
    """Hand a letter to the relay that the settings name, with a file's name and content beside it.

    Raises:
        Later: it can't be reached, or didn't take the letter.
    """
    relay = urlsplit(mail())
    letter = EmailMessage()
    letter["From"], letter["To"], letter["Subject"] = mail_from(), to, " ".join(subject.split())
    letter["Date"], letter["Message-ID"] = formatdate(localtime=False), make_msgid(domain="sandscale")
    letter.set_content(text)
    if file is not None:
        main, _, sub = (guess_type(file[0])[0] or "application/octet-stream").partition("/")
        letter.add_attachment(file[1], maintype=main, subtype=sub, filename=file[0])
    try:
        with _connected(relay.scheme, relay.hostname or "", relay.port or 0) as connection:
            if relay.username:
                if relay.scheme == "smtp":
                    connection.starttls(context=ssl.create_default_context())
                connection.login(unquote(relay.username), unquote(relay.password or ""))
            connection.send_message(letter)
    except (OSError, smtplib.SMTPException) as error:
        raise Later(f"The letter to {to} could not be sent: {type(error).__name__}.") from None


def _connected(scheme: str, host: str, port: int) -> smtplib.SMTP:
    if scheme == "smtps":
        return smtplib.SMTP_SSL(host, port or 465, timeout=PATIENCE, context=ssl.create_default_context())
    return smtplib.SMTP(host, port or 25, timeout=PATIENCE)
