"""Letters that the server sends, by SMTP; what cannot be mailed is shown to whoever asked for it."""

from __future__ import annotations

from flask import current_app, request

from skavo.jobs.mail import Mail
from skavo.store.people import LINK_LASTS


def public_address() -> str:
    """Where browsers and phones reach this server, ending in a slash."""
    return str(current_app.config["PUBLIC_ADDRESS"] or request.host_url)


def send_link(secret: str, *, name: str, email: str, kind: str) -> tuple[str, bool]:
    """The link, and whether it was mailed."""
    link = f"{public_address()}way-in#{secret}"
    days, hours = divmod(int(LINK_LASTS[kind].total_seconds()) // 3600, 24)
    lasts = f"{days} days" if days else f"{hours} hours"
    text = (
        f"{name},\n\nwith this link you choose your passphrase for Skavo. It works once, within {lasts}:\n\n{link}\n\n"
        "If you did not expect this letter, leave it: nothing happens.\n"
    )
    mail: Mail = current_app.config["MAIL"]
    subject = "Your invitation to Skavo" if kind == "invitation" else "A new passphrase for Skavo"
    return link, bool(email) and mail.send(email, subject, text)


def tell_changed(name: str, email: str) -> None:
    """A letter to whoever's passphrase was changed: it may not have been them."""
    text = (
        f"{name},\n\nyour passphrase for Skavo ({public_address()}) was changed just now, and every other browser was "
        "signed out.\n\nIf that was not you, ask whoever administers the server at once for a new link.\n"
    )
    mail: Mail = current_app.config["MAIL"]
    if email:
        mail.send(email, "Your passphrase for Skavo was changed", text)
