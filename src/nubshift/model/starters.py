"""Key lists to begin with: what games of a kind often have, to be changed where this one differs (need N11)."""

from __future__ import annotations

from nubshift.texts import _

FROM_ABOVE = "from above"
"""Seen from there, the mouse moves a cursor."""

STARTERS: dict[str, str] = {
    "first person": """
[Move]
Forward = W
Left = A
Back = S
Right = D
Jump = Space
Run = Shift
Crouch = Ctrl
[Act]
Strike = Left click
Aim = Right click
Use = E
Reload = R
Torch = F
Throw = G
[Carry]
First = 1
Second = 2
Third = 3
Bag = Tab
[Game]
Map = M
Journal = J
Menu = Esc
""",
    FROM_ABOVE: """
[View]
View up = Up
View left = Left
View down = Down
View right = Right
Turn left = Q
Turn right = E
[Choose]
Choose = Left click
Order = Right click
Add to choice = Shift
All = Ctrl + A
Group 1 = 1
Group 2 = 2
Group 3 = 3
[Do]
Build = B
Stop = S
Cancel = Esc
[Game]
Slower = Minus
Faster = Equal
Pause = Space
""",
    "role play": """
[Move]
Forward = W
Left = A
Back = S
Right = D
Jump = Space
Run = Shift
[Act]
Strike = Left click
Guard = Right click
Talk = E
Target = Tab
[Slots]
Slot 1 = 1
Slot 2 = 2
Slot 3 = 3
Slot 4 = 4
Slot 5 = 5
Slot 6 = 6
[Books]
Bag = I
Person = C
Map = M
Tasks = L
Menu = Esc
""",
}
"""By name; in the form that `keylist` reads."""
STARTER_NAMES: dict[str, str] = {
    "first person": _("First person"),
    FROM_ABOVE: _("Strategy, from above"),
    "role play": _("Role play"),
}
