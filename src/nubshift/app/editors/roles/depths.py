"""What a control does at different depths, and what is held as long as it is out (N22, N30)."""

from __future__ import annotations

from msgspec.structs import replace
from PyQt6.QtWidgets import QWidget

from nubshift.app.editors.panel import FlowLayout, Panel, emptied, link
from nubshift.app.editors.pictures.bands import BandsPicture
from nubshift.app.editors.rows.part_editor import PartEditor
from nubshift.app.stage import Stage
from nubshift.model import edits
from nubshift.model import parameters as p
from nubshift.model.profile import Band, Binding, Feel, Profile
from nubshift.model.slots import index_of
from nubshift.model.usage import feel_for
from nubshift.texts import _

FREE = 0.06
"""The least room that a new band needs."""


class DepthSection(Panel):
    """The bands on their picture, the slot of the one chosen, and the slot of what is held while it is out."""

    def __init__(self, stage: Stage, control: str) -> None:
        super().__init__(stage, control)
        self._head = self.heading(_("By depth"))
        self.picture = BandsPicture(stage, control)
        self.picture.edged.connect(self._set_edge)
        self.picture.settled.connect(stage.document.history.settle)
        self.add(self.picture)
        self._out_head = self.heading(_("While it is out"))
        self.editor = PartEditor(stage)
        self.add(self.editor)
        self.wait = self.number(p.BAND_WAIT, self._set_wait)
        self.adds = self.check(_("Keep earlier depths held"), self._set_adds)
        links = QWidget()
        self._links = FlowLayout(4)
        links.setLayout(self._links)
        self.add(links)
        self.refresh()

    @property
    def bands(self) -> tuple[Band, ...]:
        """The bands."""
        binding = self.binding
        return binding.bands if binding else ()

    @property
    def part(self) -> str:
        """The band, or ``out``, that is edited; empty for none."""
        part = self.stage.selection.part
        if part == "out" or (part.startswith("bands") and index_of(part) < len(self.bands)):
            return part
        binding = self.binding
        if binding is not None and binding.role is None and self.bands:
            return "bands[0].what"
        return ""

    def refresh(self) -> None:
        """The profile or the selection changed."""
        part, bands = self.part, self.bands
        is_band = part.startswith("bands")
        binding = self.binding
        self.picture.refresh()
        self.picture.setVisible(bool(bands))
        self._out_head.setVisible(part == "out")
        self.editor.setVisible(bool(part))
        self.wait.setVisible(is_band)
        self.adds.setVisible(is_band and index_of(part) > 0)
        if part:
            self.editor.show_slot(self.picture.slot(part))
        if is_band:
            band = bands[index_of(part)]
            self.wait.show_value(band.wait)
            self.adds.setChecked(band.adds)
        emptied(self._links)
        if binding is not None and not binding.blocked and (binding.by_depth or bands):
            self._links.addWidget(link(_("Add depth") if bands else _("Add an output at a depth"), self.add_band))
            if is_band:
                self._links.addWidget(link(_("Remove depth"), self.remove_band))
            out = _("Held while it is out") + (_(": set") if binding.out else "")
            if part != "out":
                self._links.addWidget(link(out, lambda: self.stage.selection.select(self.control, "out")))
        self._head.setVisible(bool(bands) or self._links.count() > 0)

    def _change(self, title: str, bands: tuple[Band, ...], merge: str = "") -> None:
        self.change_binding(title, lambda binding: _with_bands(binding, bands), merge)

    def _set_edge(self, index: int, start: float) -> None:
        bands = self.bands
        changed = (*bands[:index], replace(bands[index], start=start), *bands[index + 1 :])
        self._change(
            _("From {band_from_text}").format(band_from_text=p.BAND_FROM.text(start)),
            changed,
            f"band:{self.control}:{index}",
        )

    def _put(self, title: str, merge: str = "", **values: object) -> None:
        bands, index = self.bands, index_of(self.part)
        if 0 <= index < len(bands):
            changed = (*bands[:index], replace(bands[index], **values), *bands[index + 1 :])
            self._change(title, changed, merge)

    def _set_wait(self, ms: float) -> None:
        self._put(_("Wait {time}").format(time=p.BAND_WAIT.text(ms)), f"wait:{self.control}", wait=round(ms))

    def _set_adds(self, on: bool) -> None:
        self._put(_("Keep earlier depths held") if on else _("Replace earlier depths"), adds=on)

    def add_band(self) -> None:
        """One more, in the middle of the widest free stretch."""
        bands = self.bands
        edges = [self._first_edge(), *(band.start for band in bands), 1.0]
        gaps = [(edges[i + 1] - edges[i], i) for i in range(len(edges) - 1) if bands or i == 0]
        room, at = max(gaps)
        if room < FREE * 2:
            self.stage.document.noticed.emit(
                "info", _("There is no room for another depth. Move the others apart first.")
            )
            return
        start = 0.5 if not bands else p.BAND_FROM.clamp(round((edges[at] + edges[at + 1]) / 2, 2))
        self._change(
            _("Add depth from {band_from_text}").format(band_from_text=p.BAND_FROM.text(start)),
            (*bands[:at], Band(start, ()), *bands[at:]),
        )
        self.stage.selection.select(self.control, f"bands[{at}].what")

    def _first_edge(self) -> float:
        studio = self.stage.studio
        feel: Feel = feel_for(studio.profile, studio.selection.layer, self.control, studio.selection.seat)
        return feel.inner or 0.0

    def remove_band(self) -> None:
        """Take the one chosen out."""
        bands, index = self.bands, index_of(self.part)
        studio, control = self.stage.studio, self.control
        layer, seat = studio.selection.layer, studio.selection.seat
        kept = (*bands[:index], *bands[index + 1 :])

        def change(profile: Profile) -> Profile:
            binding = self.binding or Binding(control, seat)
            return edits.with_binding(profile, layer, _with_bands(binding, kept))

        studio.selection.select(control, "")
        studio.document.edit(
            _("Remove depth {index}, {control}").format(
                index=index + 1, control=studio.selection.names.inside(control)
            ),
            change,
        )


def _with_bands(binding: Binding, bands: tuple[Band, ...]) -> Binding:
    return replace(binding, bands=bands)
