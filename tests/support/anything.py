"""Random profiles with every kind of binding, and random input, for properties that must hold of all of them."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st
from msgspec.structs import replace

from nubshift.engine.compile import compile_profile
from nubshift.engine.engine import Engine
from nubshift.engine.owner import Caused, outputs_of
from nubshift.events import Change, Focus, InputEvent, Output, Plugged, Report, Unplugged
from nubshift.model import edits
from nubshift.model import sends as s
from nubshift.model.profile import (
    Band,
    Belt,
    BeltEntry,
    Binding,
    Command,
    Feel,
    Game,
    Habits,
    Layer,
    Macro,
    MacroPress,
    MacroRelease,
    MacroTap,
    MacroWait,
    Profile,
    Seat,
    Together,
    new_profile,
)
from nubshift.model.roles import (
    BoardRole,
    GyroRole,
    KeysRole,
    MenuEntry,
    MenuRole,
    MouseRole,
    PadAxisRole,
    PadStickRole,
    PointerRole,
    ScrollRole,
    TilesRole,
)
from nubshift.model.rules import problems_of

KEYS = ("A", "B", "C", "LEFTSHIFT", "BTN_LEFT")
LAYERS = ("one", "two", "three")
BUTTONS = ("south", "east", "west", "north", "dpad_up", "left_bumper")
WAYS = st.sampled_from(("up", "down", "left", "right"))

COMMANDS = (
    Command("jump", "Jump", ("SPACE",), pad=("south",)),
    Command("run", "Run", ("LEFTSHIFT",), toggles=True),
    Command("mana", "Mana", ("1",)),
    Command("heal", "Heal", ("2", "LEFTCTRL")),
)

plain: st.SearchStrategy[s.Send] = st.one_of(
    st.sampled_from(KEYS).map(s.SendKey),
    st.sampled_from([c.id for c in COMMANDS]).map(s.SendCommand),
    st.sampled_from(s.PAD_BUTTONS[:3]).map(s.SendPad),
    st.builds(s.SendPadAxis, st.sampled_from(s.PAD_AXES), st.sampled_from((-1.0, 0.5, 1.0))),
    st.builds(s.SendWheel, WAYS),
    st.builds(s.SendScroll, WAYS),
    st.builds(s.Precision, st.just(0.5)),
    st.builds(s.SendMotion, st.integers(-5, 5), st.integers(-5, 5)),
    st.builds(s.SendRumble, st.just(0.5), st.integers(10, 200)),
)
layered: st.SearchStrategy[s.Send] = st.one_of(
    st.sampled_from(LAYERS).map(s.HoldLayer),
    st.builds(s.ChangeLayer, st.sampled_from(LAYERS), st.sampled_from(("toggle", "once", "enter", "leave", "only"))),
    st.just(s.BackToBase()),
    st.just(s.NextLayer(("one", "two"))),
)
others: st.SearchStrategy[s.Send] = st.one_of(
    st.builds(s.SendBelt, st.just("belt"), st.sampled_from(("next", "back", "again"))),
    st.sampled_from(("once", "held", "until")).map(s.SendMacro),
    st.just(s.SendText("aB")),
    st.just(s.HoldProfile("guest")),
    st.builds(s.ChangeSpeed, st.sampled_from((0.5, 2.0))),
    st.builds(s.Gyro, st.sampled_from(("pause", "resume", "toggle", "recentre"))),
    st.builds(s.SendPoint, st.just(0.5), st.just(0.25)),
    st.just(s.SendNothing()),
    st.just(s.ShowAll()),
    st.builds(s.NextVariant, st.sampled_from(["left_stick", "right_stick", "motion"]), st.booleans()),
)


def _modified(inner: st.SearchStrategy[s.Send]) -> st.SearchStrategy[s.Send]:
    what = st.lists(inner, min_size=1, max_size=3).map(tuple)
    return st.one_of(
        st.builds(s.Toggled, what, st.booleans()),
        st.builds(
            s.Turbo, what, st.sampled_from((1.0, 7.0, 50.0)), st.sampled_from((0.1, 0.9)), st.sampled_from((None, 30.0))
        ),
        st.builds(s.Pulsed, what),
        st.builds(s.InOrder, what),
    )


any_send = st.one_of(plain, plain, layered, others, _modified(plain), _modified(_modified(plain)))
any_sends = st.lists(any_send, max_size=3).map(tuple)
some_sends = st.lists(any_send, min_size=1, max_size=2).map(tuple)

gestures = st.fixed_dictionaries({}, optional=dict.fromkeys(("press", "tap", "hold", "double", "release"), some_sends))
roles = st.one_of(
    st.builds(KeysRole, up=any_sends, right=any_sends, down=any_sends, left=any_sends),
    st.just(MouseRole()),
    st.just(ScrollRole()),
    st.builds(PointerRole, relative=st.booleans()),
    st.lists(any_sends, min_size=9, max_size=9).map(lambda cells: TilesRole(tuple(cells))),
    st.builds(
        MenuRole,
        st.lists(some_sends.map(MenuEntry), min_size=2, max_size=5).map(tuple),
        on=st.sampled_from(("return", "release", "press")),
        by=st.just("east"),
    ),
    st.just(BoardRole((("a", "b"), ("c", "ENTER")), by="west")),
    st.builds(PadStickRole, st.sampled_from(("left", "right")), st.booleans()),
)


def _bands(starts: list[int], whats: list[s.Sends], adds: bool, wait: int) -> tuple[Band, ...]:
    return tuple(Band(start / 100, what, adds, wait) for start, what in zip(sorted(starts), whats, strict=False))


bands = st.builds(
    _bands,
    st.lists(st.integers(5, 95), min_size=2, max_size=2, unique=True),
    st.lists(some_sends, min_size=2, max_size=2),
    st.booleans(),
    st.sampled_from((0, 40)),
)


@st.composite
def layers(draw: st.DrawFn, layer_id: str) -> Layer:
    found: list[Binding] = []
    for control in draw(st.sets(st.sampled_from(BUTTONS))):
        fields: dict[str, Any] = draw(gestures)
        found.append(Binding(control, **fields) if fields else Binding(control, blocked=True))
    for control in draw(st.sets(st.sampled_from(("left_stick", "right_stick")))):
        found.append(Binding(control, role=draw(roles), bands=draw(st.just(()) | bands), out=draw(any_sends)))
    match draw(st.sampled_from(("button", "bands", "pad", "none"))):
        case "button":
            found.append(Binding("left_trigger", press=draw(some_sends)))
        case "bands":
            found.append(Binding("left_trigger", bands=draw(bands)))
        case "pad":
            found.append(Binding("left_trigger", role=PadAxisRole("left_trigger")))
    if draw(st.booleans()):
        to = draw(st.sampled_from(("mouse", "pointer", "stick")))
        found.append(
            Binding(
                "motion", role=GyroRole(to, active=draw(st.sampled_from(("always", "while", "toggled"))), by="north")
            )
        )
    together: tuple[Together, ...] = ()
    if draw(st.booleans()):
        together = (Together(("south", "east"), **(draw(gestures) or {"press": (s.SendKey("X"),)})),)
    feel = (Feel("right_stick", min_cutoff=draw(st.sampled_from((None, 2.0)))),)
    form = draw(st.sampled_from((None, "keys", "pad")))
    hides = layer_id != "base" and draw(st.booleans())
    return Layer(
        layer_id,
        layer_id,
        hides,
        tuple(found),
        feel,
        together=together,
        form=form,
        rumble=draw(st.sampled_from((0.0, 0.5))),
    )


MACROS = (
    Macro(
        "once",
        "once",
        (
            MacroPress((s.SendKey("Q"),)),
            MacroTap((s.SendKey("W"),), 40),
            MacroRelease((s.SendKey("Q"),)),
            MacroWait(20),
            MacroTap((s.SendText("x"),)),
        ),
        again="overlap",
    ),
    Macro("held", "held", (MacroTap((s.SendKey("E"),), 20), MacroWait(15)), "while-held", "queue"),
    Macro("until", "until", (MacroPress((s.SendKey("R"),)), MacroWait(50)), "until-pressed", "restart"),
)


@st.composite
def profiles(draw: st.DrawFn) -> Profile:
    made = tuple(draw(layers(name)) for name in ("base", *LAYERS))
    belt = Belt(
        "belt",
        "Belt",
        tuple(BeltEntry((s.SendCommand(c),)) for c in ("mana", "heal", "jump")),
        wraps=draw(st.booleans()),
    )
    profile = replace(
        new_profile("Any"),
        game=Game("Any", form=draw(st.sampled_from(("keys", "pad")))),
        commands=COMMANDS,
        seats=(Seat("1"), Seat("2")),
        layers=made,
        belts=(belt,),
        macros=MACROS,
        habits=Habits(holds_toggle=draw(st.booleans())),
    )
    problems = list(problems_of(profile))
    assert not problems, problems
    return profile


part = st.integers(-10, 10).map(lambda n: n / 10)
changes: st.SearchStrategy[Change] = st.one_of(
    st.tuples(st.sampled_from(BUTTONS), st.sampled_from((0.0, 1.0)), st.just(0.0)),
    st.tuples(st.sampled_from(BUTTONS), st.sampled_from((0.0, 1.0)), st.just(0.0)),
    st.tuples(st.sampled_from(("left_stick", "right_stick")), part, part),
    st.tuples(st.just("left_trigger"), st.integers(0, 10).map(lambda n: n / 10), st.just(0.0)),
    st.tuples(st.just("motion"), st.integers(-200, 200).map(float), st.integers(-200, 200).map(float)),
)
seats = st.sampled_from(("1", "1", "1", "2"))
moment = st.sampled_from((0, 1, 900, 5_000, 10_000, 30_000, 59_999, 60_000, 150_000, 200_000, 250_000))
happenings = st.lists(
    st.one_of(
        st.tuples(st.just("report"), moment, seats, st.lists(changes, min_size=1, max_size=3).map(tuple)),
        st.tuples(st.just("report"), moment, seats, st.lists(changes, min_size=1, max_size=3).map(tuple)),
        st.tuples(
            st.sampled_from(("unplug", "plug", "stop", "resume", "blur", "focus", "edit", "trim", "switch")),
            moment,
            seats,
            st.just(()),
        ),
    ),
    max_size=40,
)


class Play:
    """Random input put through an engine; `cuts` are more moments at which time is let pass."""

    def __init__(self, profile: Profile, other: Profile) -> None:
        self._guests = {"guest": other}
        self._first = compile_profile(profile, self._guests)
        self._second = compile_profile(other, {"guest": profile})
        self._trimmed = compile_profile(edits.without_layer(edits.without_layer(profile, "two"), "three"))
        self._turn = 0
        self.engine = Engine(self._first)
        self.sent: list[Caused] = []
        self.log: list[Output] = []
        self.t = 0

    def keep(self, sent: list[Caused]) -> None:
        self.sent += sent
        self.log += outputs_of(sent)

    def run(self, steps: list[Any], cuts: int = 0) -> None:
        for what, gap, seat, values in steps:
            for cut in range(1, cuts + 1):
                self.keep(self.engine.advance(self.t + gap * cut // (cuts + 1)))
            self.t += gap
            self.do(what, seat, values)

    def do(self, what: str, seat: str, values: tuple[Change, ...]) -> None:
        t, engine = self.t, self.engine
        events: dict[str, InputEvent] = {
            "report": Report(t, values, seat),
            "unplug": Unplugged(t, seat),
            "plug": Plugged(t, values, seat),
            "blur": Focus(t, False),
            "focus": Focus(t, True),
        }
        if what in events:
            self.keep(engine.feed(events[what]))
        elif what == "stop":
            self.keep(engine.release_all(t))
        elif what == "resume":
            self.keep(engine.resume(t))
        elif what == "edit":
            self._turn += 1
            self.keep(engine.replace((self._first, self._second)[self._turn % 2], t))
        elif what == "trim":  # layers, a seat's bindings and the profile held are gone
            self.keep(engine.replace(self._trimmed, t))
        else:  # another profile: the old one is released, the new one begins
            self.keep(engine.release_all(t))
            self._turn += 1
            self.engine = Engine((self._first, self._second)[self._turn % 2])
            self.keep(self.engine.advance(t))

    def let_go(self) -> None:
        """Every control back to rest, one after the other."""
        controls = [*BUTTONS, "left_stick", "right_stick", "left_trigger", "motion"]
        for seat in ("1", "2"):
            for name in controls:
                self.t += 1000
                self.keep(self.engine.feed(Report(self.t, ((name, 0.0, 0.0),), seat)))
