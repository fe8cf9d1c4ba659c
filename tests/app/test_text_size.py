"""Text half as large again, as a player may set it for the whole desktop, on the screen of a small laptop (N70)."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import QSize, Qt
from PyQt6.QtWidgets import QApplication, QScrollArea

from nubshift.app.painting.theme import POINT_SIZE, USUAL_POINT_SIZE, install_font
from tests.app.hand import Hand


@pytest.fixture
def large(qapp: QApplication, start: Callable[..., Hand], monkeypatch: pytest.MonkeyPatch) -> Iterator[Hand]:
    """The window, where the desktop's own text is half as large again."""
    small = qapp.font()
    desktop = qapp.font()
    desktop.setPointSizeF(USUAL_POINT_SIZE * 1.5)
    monkeypatch.setattr("tests.app.windows.install_font", lambda _: None)
    qapp.setFont(desktop)
    install_font(qapp)
    yield start()
    qapp.setFont(small)


def test_all_of_it_is_reached_by_scrolling_and_nothing_is_cut(large: Hand) -> None:
    assert QApplication.font().pointSizeF() == pytest.approx(POINT_SIZE * 1.5)
    window = large.window
    least = window.minimumSizeHint()
    assert (least.width() <= 1366, least.height() <= 700) == (True, True), least
    window.resize(1366, 700)
    large.until(lambda: window.size() == QSize(1366, 700))
    for name, button in window.top.tabs.buttons.items():
        large.click(button)
        QApplication.processEvents()  # laid out
        for area in window.findChildren(QScrollArea):
            inside, view = area.widget(), area.viewport()
            along = area.horizontalScrollBarPolicy() != Qt.ScrollBarPolicy.ScrollBarAlwaysOff or area is window.map.rail
            if area.isVisible() and inside is not None and view is not None and not along:
                assert inside.minimumSizeHint().width() <= view.width(), (name, inside)
