"""Every text a person sees goes through here, so that it can be said in their language.

The language is that of the session (LANGUAGE, LC_ALL, LC_MESSAGES, LANG), read once when the process starts; texts of
tables are translated where they stand. Catalogues are ``locale/LANG/LC_MESSAGES/nubshift.mo`` beside the package's
code, or in the folder that ``NUBSHIFT_LOCALE`` names (translators and tests).
"""

from __future__ import annotations

import gettext
import os
from collections.abc import Sequence
from pathlib import Path

DOMAIN = "nubshift"
_folder = os.environ.get("NUBSHIFT_LOCALE") or str(Path(__file__).parent / "locale")
_catalogue = gettext.translation(DOMAIN, _folder, fallback=True)

_ = _catalogue.gettext
ngettext = _catalogue.ngettext


def listed(names: Sequence[str]) -> str:
    """``A``, ``A and B``, ``A, B and C``."""
    if len(names) < 2:
        return "".join(names)
    return _("{first} and {last}").format(first=", ".join(names[:-1]), last=names[-1])


def switched(title: str, on: bool) -> str:
    """The name of an edit that switches something."""
    return (_("{title}: on") if on else _("{title}: off")).format(title=title)
