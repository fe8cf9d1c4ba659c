"""``nubshift import FILE``: takes a profile from elsewhere in, after saying what it can do."""

from __future__ import annotations

import argparse
from pathlib import Path

from nubshift.errors import NubShiftError, ProfileError, StorageError
from nubshift.model.differences import differences
from nubshift.model.powers import powers
from nubshift.model.profile import SUFFIX, Profile
from nubshift.model.store import ProfileFile, free_path, free_title, profile_paths, read_profile, retitled
from nubshift.model.versions import Sessions, utc_now
from nubshift.model.writing import profile_text
from nubshift.protocol.paths import profile_folder, with_tilde
from nubshift.texts import _, ngettext

MOST_SHOWN = 40


def arguments(parser: argparse.ArgumentParser) -> None:
    """The words of this command."""
    parser.add_argument("files", metavar="FILE", nargs="+", type=Path, help=_("a profile from elsewhere"))
    way = parser.add_mutually_exclusive_group()
    way.add_argument("--show", action="store_true", help=_("only say what it can do and what is different"))
    way.add_argument("--keep-both", action="store_true", help=_("beside the one of the same game"))
    way.add_argument("--replace", action="store_true", help=_("instead of the one of the same game"))


def main(options: argparse.Namespace) -> int:
    """Take each in; 1 if one was not."""
    worst = 0
    for path in options.files:
        try:
            worst = max(worst, _take_in(path, options))
        except ProfileError as error:
            raise NubShiftError(f"{error}") from error
    return worst


def _take_in(path: Path, options: argparse.Namespace) -> int:
    profile = read_profile(path)
    _say(path, profile)
    own_path, own = _same_game(profile)
    found = differences(own, profile) if own is not None else []
    if own is not None:
        _say_differences(own, [one.text for one in found])
    if options.show or (own is not None and not found):
        return 0
    if own is None or options.keep_both:
        title = free_title(profile.game.title, {read.game.title for _path, read in _readable()})
        target = free_path(profile_folder(), path.name.removesuffix(SUFFIX))
        ProfileFile(target).write(retitled(profile, title))
        print(_("{title} was imported: {path}").format(title=title, path=with_tilde(target)))
        return 0
    if options.replace and own_path is not None:
        file = ProfileFile(own_path)
        Sessions(own_path, utc_now()).opened(profile_text(file.read()))  # the history has what was there
        file.write(profile)
        print(_("{title} was replaced: {path}").format(title=own.game.title, path=with_tilde(own_path)))
        return 0
    print(
        _("Nothing was imported. Choose --replace or --keep-both, or merge them in the window: nubshift {file}").format(
            file=path
        )
    )
    return 1


def _say(path: Path, profile: Profile) -> None:
    print(f"{profile.game.title or _('Untitled')} ({path})")
    for text in powers(profile) or (_("only presses keys and moves the mouse"),):
        print(f"  {text[0].upper()}{text[1:]}.")


def _say_differences(own: Profile, found: list[str]) -> None:
    title = own.game.title
    if not found:
        print("  " + _("It is the same as your {title}.").format(title=title))
        return
    head = ngettext(
        "Different from your {title}: {count} thing", "Different from your {title}: {count} things", len(found)
    )
    print("  " + head.format(title=title, count=len(found)))
    for text in found[:MOST_SHOWN]:
        print(f"    {text}")
    if len(found) > MOST_SHOWN:
        rest = len(found) - MOST_SHOWN
        print("    " + ngettext("and {count} more", "and {count} more", rest).format(count=rest))


def _readable() -> list[tuple[Path, Profile]]:
    found = []
    for path in profile_paths(profile_folder()):
        try:
            found.append((path, read_profile(path)))
        except (ProfileError, StorageError):
            continue
    return found


def _same_game(profile: Profile) -> tuple[Path | None, Profile | None]:
    wanted = profile.game.title.casefold()
    return next(((path, own) for path, own in _readable() if own.game.title.casefold() == wanted), (None, None))
