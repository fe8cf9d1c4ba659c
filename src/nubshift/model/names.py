"""What a player calls the controls of the controller in hand: by its print, or in words of their own (need N03)."""

from __future__ import annotations

from collections.abc import Mapping

from nubshift.model.controls import CONTROLS, FACE
from nubshift.model.stored_controllers import Labels, Print
from nubshift.texts import _, listed

COLOUR_NAMES: dict[str, str] = {
    "moss": _("Moss"),
    "rust": _("Rust"),
    "ochre": _("Ochre"),
    "slate": _("Slate"),
    "plum": _("Plum"),
    "sand": _("Sand"),
}
"""Of profiles and controllers."""

PRINTS: dict[Print, str] = {
    "places": _("Position"),
    "letters": _("Letters, A at the bottom"),
    "letters-turned": _("Letters, B at the bottom"),
    "shapes": _("Shapes"),
    "numbers": _("Numbers"),
    "colours": _("Colours"),
}
"""The kinds of print on face buttons, in words."""

_FACES: dict[Print, tuple[str, str, str, str]] = {
    "letters": ("Y", "B", "A", "X"),
    "letters-turned": ("X", "A", "B", "Y"),
    "shapes": (_("Triangle"), _("Circle"), _("Cross"), _("Square")),
    "numbers": (_("Button 4"), _("Button 3"), _("Button 1"), _("Button 2")),
    "colours": (_("Yellow"), _("Red"), _("Green"), _("Blue")),
}
"""For the upper, right, lower and left one."""


def names_for(labels: Labels, taught: Mapping[str, str]) -> dict[str, str]:
    """The names that differ from the usual ones: own words first, then the print, then what teaching gave."""
    faces = dict(zip(FACE, _FACES[labels.print], strict=True)) if labels.print in _FACES else {}
    return {**taught, **faces, **labels.names}


class Names:
    """The words for controls that count now. `words` are those that differ from the usual ones."""

    def __init__(self, words: Mapping[str, str] | None = None) -> None:
        self.words = dict(words or {})

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Names) and self.words == other.words

    def __hash__(self) -> int:
        return hash(tuple(sorted(self.words.items())))

    def title(self, control: str) -> str:
        """What a person calls a control; several joined with ``+`` are named one after the other."""
        titles = [
            self.words.get(name) or (CONTROLS[name].title if name in CONTROLS else name) for name in control.split("+")
        ]
        return listed([titles[0], *(lowered(title) for title in titles[1:])])

    def inside(self, control: str) -> str:
        """The same within a sentence."""
        return lowered(self.title(control)) if "+" not in control else self._inside_all(control)

    def _inside_all(self, control: str) -> str:
        return listed([self.inside(name) for name in control.split("+")])

    def mark(self, control: str) -> str:
        """At most three letters for the round mark."""
        words = self.words.get(control, "").split()
        if not words or control in FACE:
            return CONTROLS[control].mark
        return "".join(word[0] for word in words).lower()[:3] if len(words) > 1 else words[0][:2].lower()


def lowered(title: str) -> str:
    """A title within a sentence: its first letter small, unless it is a letter or an abbreviation."""
    return title if len(title) < 2 or title[1].isupper() or title[1] == " " else title[0].lower() + title[1:]
