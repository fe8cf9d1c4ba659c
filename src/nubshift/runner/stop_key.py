"""The key that pauses everything, whatever is in front: also when the window hangs or is gone (need N61)."""

from __future__ import annotations

import os
from typing import TYPE_CHECKING

from nubshift.model.keys import KEYS
from nubshift.texts import _

if TYPE_CHECKING:
    from nubshift.surroundings.x11 import XKey


TRIES = 4


class StopKey:
    """Hears one key, by a grab of the X server. `trouble` says why it can't, in a part of a sentence, if so."""

    def __init__(self) -> None:
        self._wanted: tuple[str, ...] = ()
        self._key: XKey | None = None
        self._tries = 0
        self.trouble = ""

    def want(self, keys: tuple[str, ...]) -> bool:
        """Hear this key from now on: its modifiers, then the key itself; none for none.

        Whether that can't be: `trouble` says why. A key that another program has is asked for again a few times first:
        it may be a runner that is just ending.
        """
        if keys != self._wanted:
            self.close()
            self._wanted, self._tries, self.trouble = keys, TRIES, ""
        if not keys or self._key is not None or not self._tries or not os.environ.get("DISPLAY"):
            return False
        self._tries -= 1
        from nubshift.surroundings.x11 import MODIFIERS, XKey

        *modifiers, key = keys
        shown = " + ".join(keys)
        if key not in KEYS or any(name not in MODIFIERS for name in modifiers):
            self.trouble = _("The stop key {keys} is not a key that can be used").format(keys=shown)
            self._tries = 0
        else:
            try:
                self._key = XKey(KEYS[key].code, tuple(modifiers))
                self.trouble = ""
            except OSError:
                self.trouble = _("The stop key {keys} is in use by another program").format(keys=shown)
        return bool(self.trouble) and not self._tries

    @property
    def still_tries(self) -> bool:
        """Whether it is worth asking again soon."""
        return bool(self._wanted) and self._key is None and self._tries > 0

    def filenos(self) -> tuple[int, ...]:
        """Readable when it may have been pressed."""
        return (self._key.fileno(),) if self._key is not None else ()

    def pressed(self) -> bool:
        """Whether it was pressed since this was asked last."""
        if self._key is None:
            return False
        try:
            return self._key.pressed()
        except OSError:
            self.close()
            return False

    def close(self) -> None:
        """Hear nothing any more."""
        if self._key is not None:
            self._key.close()
        self._key = None
