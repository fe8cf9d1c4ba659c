"""Catalogues of the texts: what translators begin with, and two pseudo-languages that show what is not translated or cut.

``translations.py extract FILE.pot`` collects every text of the program. ``translations.py compile FILE.po FOLDER`` makes
``FOLDER/LANG/LC_MESSAGES/nubshift.mo`` of a translation. ``translations.py pseudo FOLDER`` makes the pseudo-languages
`accented` (every letter has an accent) and `long` (every text is 40 % longer). The program reads a folder that
``NUBSHIFT_LOCALE`` names, in the language that ``LANGUAGE`` names.
"""

from __future__ import annotations

import argparse
import re
from collections.abc import Callable
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

SOURCE = Path(__file__).parents[1] / "src" / "nubshift"
PLACE = re.compile(r"(\{[^{}]*\}|%\([a-z]+\)s|\*\.\w+|\(\*\{[^)]*\))")
"""Places for values, and patterns of file names, which no language changes."""
ACCENTS = str.maketrans(
    "aAbBcCdDeEfFgGhHiIjJkKlLmMnNoOpPqQrRsStTuUvVwWxXyYzZ", "áÁḃḂćĆďĎéÉḟḞǵǴĥĤíÍĵĴḱḰĺĹḿḾńŃóÓṕṔʠɊŕŔśŚťŤúÚṽṼẃẂẋẊýÝźŹ"
)
MORE = 1.4


def catalogue() -> Catalog:
    """Every text of the program, with where it stands."""
    found = Catalog(project="Nub Shift", charset="utf-8", fuzzy=False)
    for file, line, message, _, context in extract_from_dir(str(SOURCE), keywords=KEYWORDS):
        found.add(message, locations=[(f"src/nubshift/{file}", line)], context=context)
    return found


KEYWORDS = {"_": None, "ngettext": (1, 2)}


def accented(text: str) -> str:
    """`text` with an accent on every letter."""
    return _between(text, lambda part: part.translate(ACCENTS))


def longer(text: str) -> str:
    """`text` as long as in a language of long words."""
    letters = len(PLACE.sub("", text))
    more = "".join("ööööööö "[at % 8] for at in range(round(letters * (MORE - 1)) - 1))
    return f"{text} {more or 'ö'}".rstrip() if letters else text


def _between(text: str, change: Callable[[str], str]) -> str:
    parts = PLACE.split(text)
    return "".join(part if index % 2 else change(part) for index, part in enumerate(parts))


PSEUDO: dict[str, Callable[[str], str]] = {"accented": accented, "long": longer}


def compile_to(found: Catalog, folder: Path, language: str) -> None:
    """Write a catalogue where the program looks for it."""
    place = folder / language / "LC_MESSAGES"
    place.mkdir(parents=True, exist_ok=True)
    with open(place / "nubshift.mo", "wb") as file:
        write_mo(file, found)


def pseudo(folder: Path) -> None:
    """Make both pseudo-languages."""
    for language, change in PSEUDO.items():
        found = catalogue()
        for message in found:
            if isinstance(message.id, tuple):
                message.string = tuple(change(text) for text in message.id)
            elif message.id:
                message.string = change(str(message.id))
        compile_to(found, folder, language)


def main() -> None:
    """What the command line asks for."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    commands = parser.add_subparsers(dest="command", required=True)
    commands.add_parser("extract").add_argument("file", type=Path)
    commands.add_parser("pseudo").add_argument("folder", type=Path)
    one = commands.add_parser("compile")
    one.add_argument("file", type=Path)
    one.add_argument("folder", type=Path)
    options = parser.parse_args()
    match options.command:
        case "extract":
            with open(options.file, "wb") as file:
                write_po(file, catalogue(), width=120)
        case "pseudo":
            pseudo(options.folder)
        case _:
            with open(options.file, "rb") as file:
                compile_to(read_po(file), options.folder, options.file.stem)


if __name__ == "__main__":
    main()
