"""A short sound with each layer: higher when one is entered, lower when one is left (N28). Off unless wanted."""

from __future__ import annotations

import math
import struct
import tempfile
import wave
from pathlib import Path

from PyQt6.QtCore import QObject, QUrl

from nubshift.app.client.mirror import Mirror

RATE = 22050
ENTER_HZ, LEAVE_HZ = 660.0, 440.0
LENGTH = 0.07


class LayerSounds(QObject):
    """Plays them. `played` counts, so that nothing is lost where there is no sound."""

    def __init__(self, live: Mirror, parent: QObject) -> None:
        super().__init__(parent)
        self._live = live
        self._layers: tuple[str, ...] = ()
        self._folder: tempfile.TemporaryDirectory[str] | None = None
        self._effects: dict[float, object] = {}
        self.on = False
        self.played: list[float] = []
        live.layers_changed.connect(self._changed)

    def _changed(self) -> None:
        before, self._layers = self._layers, self._live.layers
        if self.on and self._live.real and before != self._layers:
            self.play(ENTER_HZ if len(self._layers) > len(before) else LEAVE_HZ)

    def play(self, pitch: float) -> None:
        """Play one of the two."""
        self.played.append(pitch)
        del self.played[:-20]
        if pitch not in self._effects:
            from PyQt6.QtMultimedia import QSoundEffect

            effect = QSoundEffect(self)
            effect.setSource(QUrl.fromLocalFile(str(self._file(pitch))))
            effect.setVolume(0.35)
            self._effects[pitch] = effect
        self._effects[pitch].play()  # type: ignore[attr-defined]

    def _file(self, pitch: float) -> Path:
        if self._folder is None:
            self._folder = tempfile.TemporaryDirectory(prefix="nubshift-")
        path = Path(self._folder.name) / f"{pitch:.0f}.wav"
        write_tone(path, pitch)
        return path


def write_tone(path: Path, pitch: float) -> None:
    """A soft tone of `LENGTH` seconds as a wave file, 16 bit mono."""
    count = round(RATE * LENGTH)
    samples = (math.sin(2 * math.pi * pitch * n / RATE) * math.sin(math.pi * n / count) for n in range(count))
    with wave.open(str(path), "wb") as file:
        file.setnchannels(1)
        file.setsampwidth(2)
        file.setframerate(RATE)
        file.writeframes(b"".join(struct.pack("<h", round(sample * 20_000)) for sample in samples))
