"""Sentences that the panels of Tune share: how late smoothing is, and the turn gauge."""

from __future__ import annotations

from math import pi

from nubshift.app.tune.tuner import Tuner
from nubshift.model import parameters as p

STEADYING = (p.STEADY, p.QUICK)


def lag_words(steady: float, quick: float) -> str:
    """How late smoothing is, in words: at slow aim by its least cut-off, and at eight times the reach a second."""
    if not steady:
        return "Not smoothed; nothing is late."
    slow, fast = 1000 / (2 * pi * steady), 1000 / (2 * pi * (steady + quick * 8))
    return f"Late by {slow:.0f} ms at slow aim, by {fast:.0f} ms in a flick."


def gauge_words(tuner: Tuner) -> str:
    """The turn gauge that counts here; empty where the mouse moves a cursor."""
    profile, studio = tuner.stage.studio.profile, tuner.stage.studio
    layer = profile.layer(studio.layer)
    if tuner.cursor:
        return ""
    own = layer.counts_per_turn if layer is not None else None
    counts = f"{own or profile.game.counts_per_turn:,.0f}".replace(",", "\u202f")
    if own:
        return f"in {layer.name if layer else ''} one turn takes {counts} counts · count"
    if profile.game.counts_per_turn == p.COUNTS_PER_TURN.default:
        return f"one turn taken as {counts} counts, not counted yet · count"
    return f"one turn takes {counts} counts · count"
