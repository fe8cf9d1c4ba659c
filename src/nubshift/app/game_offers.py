"""A game that is played without a profile: one is offered for it, once (need N61)."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QObject
from PyQt6.QtGui import QCursor
from PyQt6.QtWidgets import QMenu, QWidget

from nubshift.app.client.link import Link
from nubshift.app.document.automatic_store import AutomaticStore
from nubshift.app.document.shelf import Shelf
from nubshift.app.shell.notices import NoticeBar
from nubshift.model.programs import SeenProgram, learned_from
from nubshift.model.store import name_of
from nubshift.texts import _


class GameOffers(QObject):
    """Says it over the game, by `tell`, and in the window, where a profile can be chosen or made (`new`)."""

    def __init__(
        self,
        link: Link,
        rules: AutomaticStore,
        shelf: Shelf,
        notices: NoticeBar,
        tell: Callable[[str], object],
        new: Callable[[], object],
        window: QWidget,
    ) -> None:
        super().__init__(link)
        self._rules, self._shelf, self._notices = rules, shelf, notices
        self._tell, self._new, self._window = tell, new, window
        self.menu: QMenu | None = None
        link.game_seen.connect(self._seen)

    def _seen(self, game: SeenProgram) -> None:
        if self._rules.now.is_offered(game):
            return
        self._rules.change(self._rules.now.with_offered(learned_from(game)))
        text = _("{game} has no profile.").format(game=game.called)
        self._tell(text)
        self._notices.offer("info", text, _("Choose a profile…"), lambda: self._choose(game))

    def _choose(self, game: SeenProgram) -> None:
        """Ask which profile goes with it from now on."""
        menu = self.menu = QMenu(self._window)
        head = menu.addAction(_("Use with {game}").format(game=game.called.replace("&", "&&")))
        if head is not None:
            head.setEnabled(False)
        match = learned_from(game)
        for entry in self._shelf.entries():
            if not entry.trouble:
                name = name_of(entry.path, self._shelf.folder)
                self._add(menu, entry.title, partial(self._use, name, game))
        menu.addSeparator()
        self._add(menu, _("New profile…"), self._new)
        never = _("Never use a profile in {game}").format(game=game.called)
        self._add(menu, never, lambda: self._rules.change(self._rules.now.with_never(match)))
        menu.aboutToHide.connect(menu.deleteLater)
        menu.popup(QCursor.pos())

    def _use(self, name: str, game: SeenProgram) -> None:
        self._rules.change(self._rules.now.with_match(name, learned_from(game)))

    @staticmethod
    def _add(menu: QMenu, text: str, act: Callable[[], object]) -> None:
        action = menu.addAction(text.replace("&", "&&"))
        if action is not None:
            action.triggered.connect(lambda _=False: act())
