"""Sentences that the panels of Tune share: how late smoothing is, and the turn gauge."""

from __future__ import annotations

from nubshift.app.tune.tuner import Tuner
from nubshift.model import parameters as p
from nubshift.model.delays import FLICK, smoothing_lag
from nubshift.texts import _

SMOOTHING = (p.MIN_CUTOFF, p.BETA)


def lag_words(min_cutoff: float, beta: float) -> str:
    """How late smoothing is, in words: at slow aim by its least cut-off, and at eight times the reach a second."""
    if not min_cutoff:
        return _("No smoothing, no delay.")
    slow, fast = smoothing_lag(min_cutoff, beta), smoothing_lag(min_cutoff, beta, FLICK)
    return _("Delays slow aim by {slow:.0f} ms, a flick by {fast:.0f} ms.").format(slow=slow, fast=fast)


def gauge_words(tuner: Tuner) -> str:
    """The turn gauge that counts here; empty where the mouse moves a cursor."""
    profile, studio = tuner.stage.studio.profile, tuner.stage.studio
    layer = profile.layer(studio.selection.layer)
    if tuner.cursor:
        return ""
    own = layer.counts_per_turn if layer is not None else None
    counts = f"{own or profile.game.counts_per_turn:,.0f}".replace(",", "\u202f")
    if own:
        return _("In {name} one turn is {counts} counts.").format(name=layer.name if layer else "", counts=counts)
    if profile.game.counts_per_turn == p.COUNTS_PER_TURN.default:
        return _("One turn is assumed to be {counts} counts.").format(counts=counts)
    return _("One turn is {counts} counts.").format(counts=counts)
