"""The controllers of the laboratory. The numbers and names of the models are made up, but for those that a driver or a
table is asked by."""

from __future__ import annotations

from dataclasses import replace

from nubshift.devices.codes import AxisRange
from nubshift.devices.device_mapping import KnownMappings
from nubshift.devices.simulated_hardware import HARDWARE, HardwareModel
from nubshift.model.controller_setup import ControllerSetup, InputMapping
from nubshift.model.controls import Kind as ControlKind
from nubshift.model.controls import kind_of
from standins.laboratory.describing import Kind, NodeKind, says

WIDE, BYTE, PULL, SHORT = AxisRange(-32768, 32767), AxisRange(0, 255, 128), AxisRange(0, 255), AxisRange(0, 1023)
HAT = AxisRange(-1, 1)
FACES = "south=k130 east=k131 north=k133 west=k134"
TURNED = "south=k130 east=k131 north=k134 west=k133"
MIDDLE = (
    "left_bumper=k136 right_bumper=k137 select=k13a start=k13b mode=k13c left_stick_click=k13d right_stick_click=k13e"
)
LEFT = "left_stick>=a0+ left_stick<=a0- left_stickv=a1+ left_stick^=a1-"
RIGHT = "right_stick>=a3+ right_stickv=a4+ right_stick^=a4-"
TRIGGERS = "left_trigger=a2+ right_trigger=a5+"
CROSS = "dpad_left=a10- dpad_right=a10+ dpad_up=a11- dpad_down=a11+"
CROSS_KEYS = "dpad_up=k220 dpad_down=k221 dpad_left=k222 dpad_right=k223"
PAD_KEYS = (0x130, 0x131, 0x133, 0x134, 0x136, 0x137, 0x13A, 0x13B, 0x13C, 0x13D, 0x13E)
HATS = {16: HAT, 17: HAT}
STICKS = {0: WIDE, 1: WIDE, 3: WIDE, 4: WIDE}
PAD_AXES = {**STICKS, 2: PULL, 5: PULL, **HATS}
PAD = NodeKind(keys=PAD_KEYS, axes=PAD_AXES)
PAD_SAYS = f"{MIDDLE} {LEFT} {RIGHT} {TRIGGERS} {CROSS}"
MOTION_AXES = {code: AxisRange(-32768, 32767, 0, 8192 if code < 3 else 16) for code in range(6)}
MOTION = NodeKind(" Motion Sensors", axes=MOTION_AXES, properties=(6,), tag="ID_INPUT_ACCELEROMETER")
TOUCH = NodeKind(
    " Touchpad",
    keys=(0x110, 0x145, 0x14A),
    axes={0: AxisRange(0, 1920), 1: AxisRange(0, 1080)},
    properties=(0, 2),
    tag="ID_INPUT_TOUCHPAD",
)
TOUCHES = "touch_pad_touched=2:k14a touch_pad_click=2:k110"
IMU = replace(
    MOTION,
    name=" IMU",
    axes={code: AxisRange(-32767000, 32767000, 0, 4096 if code < 3 else 14247) for code in range(6)},
)
JOYSTICK = tuple(range(0x120, 0x12C))
SPARE = {16 + n: AxisRange(0, 1023, 1023) for n in range(8)}
TABLED = {"bus": 3, "vendor": 0x289B, "product": 0x0003, "version": 0x0101}
"""An old pad of the table in the SDL library: a:b0, b:b4, x:b1, y:b5, back:b2, start:b3, its stick and shoulders."""


def _taught(name: str, hardware: HardwareModel) -> Kind:
    """A simulated model as if it were plugged in, and taught."""
    says = {}
    for input_ in hardware.raw_inputs:
        if input_.source == "key":
            says[input_.control] = f"k{input_.code:x}"
            continue
        for way in ("above", "below") if input_.side == "both" and input_.low < input_.rest else (input_.side,):
            more = way != "below" if way != "both" else True
            sign = (1 if more else -1) * (-1 if input_.flip else 1)
            match kind_of(input_.control):
                case ControlKind.STICK:
                    mark = {("x", 1): ">", ("x", -1): "<", ("y", 1): "v", ("y", -1): "^"}[input_.component, sign]
                case ControlKind.AXIS:
                    mark = "+" if sign > 0 or input_.side == "below" else "-"
                case _:
                    mark = ""
            says[input_.control + mark] = f"a{input_.code:x}{'+' if more else '-'}"
    node = NodeKind(keys=hardware.keys, axes=hardware.axes)
    return Kind(name, hardware.name, (node,), says, "taught", product=hardware.product, taught=hardware.raw_inputs)


KINDS: tuple[Kind, ...] = (
    Kind(
        "plain", "Fern pad", (PAD,), says(f"{FACES} {PAD_SAYS}"), lacks=("motion", "touch_pad", "button_1"), product=1
    ),
    Kind("xpad", "Bracken pad", (PAD,), says(f"{TURNED} {PAD_SAYS}"), "corrected", driver="xpad", product=2),
    Kind(
        "receiver",
        "Bracken receiver",
        tuple(NodeKind(keys=(*PAD_KEYS, 0x2C0, 0x2C1, 0x2C2, 0x2C3), axes=PAD_AXES, interface=n) for n in (0, 2)),
        says(f"{TURNED} {PAD_SAYS}"),
        "corrected",
        lacks=("button_1",),
        driver="xpad",
        product=3,
        controllers=2,
    ),
    Kind(
        "radio",
        "Bracken radio pad",
        (
            NodeKind(
                keys=(*PAD_KEYS, 0xA7),
                axes={**dict.fromkeys((0, 1, 2, 5), AxisRange(0, 65535, 32768)), 9: SHORT, 10: SHORT, **HATS},
            ),
        ),
        says(
            f"{TURNED} {MIDDLE} {LEFT} right_stick>=a2+ right_stickv=a5+ left_trigger=aa+ right_trigger=a9+ {CROSS} "
            "button_1=ka7"
        ),
        "corrected",
        ("1 button only has a number", "right stick"),
        driver="microsoft",
        bus=5,
        vendor=0x045E,
        product=4,
        radio=True,
    ),
    Kind(
        "two-pads",
        "Heather pad",
        (
            NodeKind(
                keys=(*PAD_KEYS, 0x220, 0x221, 0x222, 0x223, 0x224, 0x225),
                axes={**STICKS, 20: SHORT, 21: SHORT, 16: WIDE, 17: WIDE},
            ),
        ),
        says(
            f"{TURNED} {MIDDLE} {LEFT} {RIGHT} {CROSS_KEYS} left_trigger=a15+ right_trigger=a14+ left_grip=k224 "
            "right_grip=k225 axis_1+=a10+ axis_2+=a11+"
        ),
        "corrected",
        ("2 axes only have a number",),
        driver="hid-steam",
        product=5,
    ),
    Kind(
        "handheld",
        "Heather handheld",
        (PAD, MOTION),
        says(f"{TURNED} {PAD_SAYS} motion=1:a4-"),
        "corrected",
        driver="hid-steam",
        product=6,
        radio=True,
    ),
    Kind(
        "sensing",
        "Yarrow pad",
        (PAD, MOTION, TOUCH),
        says(f"{FACES} {PAD_SAYS} {TOUCHES} motion=1:a4-"),
        driver="playstation",
        product=7,
        radio=True,
    ),
    Kind(
        "sensing-older",
        "Yarrow old pad",
        (PAD, MOTION, TOUCH),
        says(f"{FACES} {PAD_SAYS} {TOUCHES} motion=1:a4-"),
        driver="sony",
        product=8,
        radio=True,
    ),
    Kind(
        "tilting",
        "Yarrow first pad",
        (
            NodeKind(keys=(*PAD_KEYS, 0x220, 0x221, 0x222, 0x223), axes={**STICKS, 2: PULL, 5: PULL}),
            replace(MOTION, axes={n: AxisRange(-512, 511, 0, 113) for n in range(3)}),
        ),
        says(f"{FACES} {MIDDLE} {LEFT} {RIGHT} {TRIGGERS} {CROSS_KEYS}"),
        lacks=("motion",),
        driver="sony",
        product=9,
        radio=True,
    ),
    Kind(
        "pair",
        "Sedge pair",
        (NodeKind(keys=(*PAD_KEYS, 0x135, 0x138, 0x139), axes={**STICKS, **HATS}), IMU),
        says(
            f"{FACES} {MIDDLE} {LEFT} {RIGHT} {CROSS} left_trigger=k138 right_trigger=k139 button_1=k135 motion=1:a5-"
        ),
        doubts=("1 button only has a number",),
        driver="nintendo",
        bus=5,
        product=10,
        radio=True,
    ),
    Kind(
        "left-half",
        "Sedge left half",
        (
            NodeKind(
                keys=(0x135, 0x136, 0x137, 0x138, 0x139, 0x13A, 0x13D, 0x220, 0x221, 0x222, 0x223),
                axes={0: WIDE, 1: WIDE},
            ),
            IMU,
        ),
        says(
            f"{LEFT} {CROSS_KEYS} left_bumper=k136 left_trigger=k138 "
            "left_grip=k137 left_grip_2=k139 select=k13a left_stick_click=k13d motion=1:a5-"
        ),
        lacks=("right_bumper", "right_trigger", "south"),
        driver="nintendo",
        bus=5,
        product=11,
        radio=True,
        half="left",
    ),
    Kind(
        "right-half",
        "Sedge right half",
        (
            NodeKind(
                keys=(0x130, 0x131, 0x133, 0x134, 0x136, 0x137, 0x138, 0x139, 0x13B, 0x13C, 0x13E),
                axes={3: WIDE, 4: WIDE},
            ),
            IMU,
        ),
        says(
            f"{FACES} {RIGHT} right_bumper=k137 right_trigger=k139 "
            "right_grip_2=k136 right_grip=k138 start=k13b mode=k13c right_stick_click=k13e motion=1:a5-"
        ),
        lacks=("left_bumper", "left_trigger", "dpad_up"),
        driver="nintendo",
        bus=5,
        product=12,
        radio=True,
        half="right",
    ),
    Kind(
        "wand",
        "Rush wand",
        (
            NodeKind(keys=(103, 105, 106, 108, 0x101, 0x102, 0x130, 0x131, 0x13C, 0x197, 0x19C)),
            NodeKind(" Accelerometer", axes={n: AxisRange(-500, 500) for n in (3, 4, 5)}),
            NodeKind(" Motion Plus", axes={n: AxisRange(-16000, 16000) for n in (3, 4, 5)}),
            NodeKind(" IR", axes=SPARE),
        ),
        says(
            "south=k130 right_trigger=k131 dpad_up=k67 dpad_down=k6c dpad_left=k69 dpad_right=k6a button_1=k101 "
            "button_2=k102 mode=k13c start=k197 select=k19c motion=2:a3-"
        ),
        "corrected",
        driver="wiimote",
        bus=5,
        product=13,
    ),
    Kind(
        "wand-alone",
        "Rush old wand",
        (
            NodeKind(keys=(103, 105, 106, 108, 0x101, 0x102, 0x130, 0x131, 0x13C, 0x197, 0x19C)),
            NodeKind(" Accelerometer", axes={n: AxisRange(-500, 500) for n in (3, 4, 5)}),
        ),
        says("south=k130 dpad_up=k67"),
        "corrected",
        lacks=("motion", "pointer"),
        driver="wiimote",
        bus=5,
        product=14,
    ),
    Kind(
        "deep-bumpers",
        "Juniper pad",
        (
            NodeKind(
                keys=(0x130, 0x131, 0x133, 0x134, 0x220, 0x221, 0x222, 0x223),
                axes={**STICKS, 18: PULL, 19: PULL, 20: PULL, 21: PULL},
            ),
        ),
        says(
            f"{FACES} {LEFT} {RIGHT} {CROSS_KEYS} "
            "left_trigger=a15+ right_trigger=a14+ left_bumper=a13+ right_bumper=a12+"
        ),
        product=15,
    ),
    Kind(
        "phone-pad",
        "Larch pad",
        (NodeKind(keys=PAD_KEYS, axes={0: BYTE, 1: BYTE, 2: BYTE, 5: BYTE, 9: PULL, 10: PULL, **HATS}),),
        says(f"{FACES} {MIDDLE} {LEFT} right_stick>=a2+ right_stickv=a5+ left_trigger=aa+ right_trigger=a9+ {CROSS}"),
        doubts=("right stick",),
        bus=5,
        product=16,
        radio=True,
    ),
    Kind(
        "sharing",
        "Hazel pad",
        (NodeKind(keys=(*PAD_KEYS, 0xA7), axes=PAD_AXES),),
        says(f"{FACES} {PAD_SAYS} button_1=ka7"),
        doubts=("1 button only has a number",),
        product=17,
    ),
    Kind(
        "counted",
        "Poplar pad",
        (NodeKind(keys=tuple(range(0x130, 0x13F)), axes={0: BYTE, 1: BYTE, 2: BYTE, 5: BYTE, **HATS}),),
        says(f"{FACES} {MIDDLE} {LEFT} {CROSS} button_1=k132 button_2=k135"),
        doubts=("only numbers its buttons",),
        driver="hid-generic",
        product=18,
    ),
    Kind(
        "tabled",
        "Old studio pad",
        (NodeKind(keys=tuple(range(0x120, 0x128)), axes={0: BYTE, 1: BYTE}),),
        says(
            f"south=k120 east=k124 west=k121 north=k125 select=k122 start=k123 left_bumper=k126 right_bumper=k127 {LEFT}"
        ),
        "table",
        driver="hid-generic",
        **TABLED,
    ),
    Kind(
        "numbered",
        "Aspen pad",
        (NodeKind(keys=JOYSTICK, axes={0: BYTE, 1: BYTE, 2: BYTE, 5: BYTE, **HATS}),),
        says(f"button_1=k120 button_12=k12b {LEFT} {CROSS} axis_1+=a2+ axis_1-=a2- axis_2+=a5+"),
        "guess",
        ("only have numbers",),
        driver="hid-generic",
        product=19,
    ),
    Kind(
        "flight",
        "Kestrel stick",
        (NodeKind(keys=JOYSTICK, axes={0: SHORT, 1: SHORT, 5: AxisRange(0, 255, 128), 6: PULL, **HATS}),),
        says(f"button_1=k120 axis_1+=a5+ axis_1-=a5- axis_2+=a6+ {CROSS}"),
        "guess",
        product=20,
    ),
    Kind(
        "wheel",
        "Rowan wheel",
        (
            NodeKind(
                keys=tuple(range(0x120, 0x130)),
                axes={0: AxisRange(0, 16383, 8192), 2: AxisRange(0, 255), 9: PULL, 10: PULL, **HATS},
            ),
        ),
        says(f"button_1=k120 button_16=k12f axis_3+=a9+ axis_4+=aa+ {CROSS}") | {"axis_1+": "a0+", "axis_1-": "a0-"},
        "guess",
        product=21,
    ),
    Kind(
        "puck",
        "Pebble puck",
        (NodeKind(keys=(0x100, 0x101), axes={n: AxisRange(-350, 350) for n in range(6)}),),
        says("button_1=k100 button_2=k101 left_stick>=a0+ left_stick^=a1- axis_1+=a2+ axis_1-=a2- axis_4-=a5-"),
        "guess",
        product=22,
    ),
    Kind(
        "lever",
        "Quarry lever",
        (NodeKind(keys=PAD_KEYS[:8], axes=HATS),),
        says(f"{FACES} {CROSS} left_bumper=k136"),
        lacks=("left_stick",),
        product=23,
    ),
    Kind(
        "one-axis",
        "Thistle pad",
        (NodeKind(keys=JOYSTICK, axes={0: BYTE, 1: BYTE, 2: BYTE}),),
        {"left_trigger": "a2+", "right_trigger": "a2-", "south": "k120"},
        "taught",
        ("share one axis",),
        product=24,
        taught=(
            InputMapping("left_trigger", "axis", 2, low=0, rest=128, high=255, side="above"),
            InputMapping("right_trigger", "axis", 2, low=0, rest=128, high=255, side="below"),
            InputMapping("south", "key", 0x120),
        ),
    ),
    Kind(
        "forty",
        "Bramble panel",
        (NodeKind(keys=tuple(range(0x2C0, 0x2E8)), axes={0: WIDE, 1: WIDE}),),
        says("button_1=k2c0 button_32=k2df"),
        "guess",
        ("8 more of its buttons",),
        product=25,
    ),
    Kind(
        "no-x",
        "Nettle pad",
        (NodeKind(keys=PAD_KEYS, axes={1: WIDE, **HATS}),),
        says(f"{FACES} {CROSS} axis_1+=a1+"),
        doubts=("1 axis only has a number",),
        lacks=("left_stick",),
        product=26,
    ),
    Kind(
        "split",
        "Two-port box",
        (NodeKind(keys=JOYSTICK, axes={0: BYTE, 1: BYTE}), NodeKind(keys=JOYSTICK, axes={0: BYTE, 1: BYTE})),
        says(f"button_1=k120 {LEFT}"),
        "guess",
        driver="hid-generic",
        product=27,
        controllers=2,
    ),
    *(_taught(name, hardware) for name, hardware in HARDWARE.items()),
)

BYSTANDERS: tuple[Kind, ...] = (
    Kind("keyboard", "Oat keyboard", (NodeKind(keys=tuple(range(1, 120)), tag="ID_INPUT_KEYBOARD"),), product=40),
    Kind("mouse", "Oat mouse", (NodeKind(keys=(0x110, 0x111, 0x112), tag="ID_INPUT_MOUSE"),), product=41),
    Kind("touch-pad", "Oat touch pad", (replace(TOUCH, name=""),), product=42),
    Kind(
        "tablet",
        "Oat tablet",
        (
            NodeKind(
                keys=(0x140, 0x14A, 0x14B, 0x100, 0x101), axes={0: WIDE, 1: WIDE, 24: SHORT}, tag="ID_INPUT_TABLET"
            ),
        ),
        product=43,
    ),
    Kind(
        "screen",
        "Oat screen",
        (NodeKind(keys=(0x14A,), axes={0: WIDE, 1: WIDE}, properties=(1,), tag="ID_INPUT_TOUCHSCREEN"),),
        product=44,
    ),
    Kind(
        "lid",
        "Oat lid",
        (replace(MOTION, name="", axes={n: AxisRange(-512, 512, 0, 256) for n in range(3)}),),
        product=45,
    ),
)
"""What is no controller and must not be taken for one."""

KNOWN = KnownMappings({kind.model: ControllerSetup(kind.model, kind.taught) for kind in KINDS if kind.taught})
