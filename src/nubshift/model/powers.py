"""What a profile can do beside pressing keys, told before one from elsewhere is used (docs/architecture.md)."""

from __future__ import annotations

from nubshift.model.profile import Profile
from nubshift.model.sends import Pulsed, SendMacro, SendText, Turbo
from nubshift.model.walk import every_send, places
from nubshift.texts import _


def powers(profile: Profile) -> tuple[str, ...]:
    """In words: texts that it types, macros, turbo, other profiles that it enters. It can't run programs."""
    texts: dict[str, None] = {}
    turbo = False
    macros: set[str] = set()
    for place in places(profile):
        for send in every_send(place.sends):
            match send:
                case SendText(text):
                    texts[text] = None
                case SendMacro(macro):
                    macros.add(macro)
                case Turbo() | Pulsed():
                    turbo = True
    found = []
    if texts:
        shown = ", ".join(f"“{text[:40]}”" for text in list(texts)[:3])
        found.append(
            (_("types text: {texts} and more") if len(texts) > 3 else _("types text: {texts}")).format(texts=shown)
        )
    if macros or profile.macros:
        names = ", ".join(macro.name for macro in profile.macros[:4])
        found.append(_("runs macros: {names}").format(names=names))
    if turbo:
        found.append(_("repeats keys (turbo)"))
    if profile.game.pad != "none":
        found.append(_("shows the game a virtual pad"))
    return tuple(found)
