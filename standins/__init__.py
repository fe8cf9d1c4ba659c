"""What plays the other side of Nub Shift where the real thing is not there: controllers, and programs of a desktop.

Each is small, keeps to the public interface of what it stands for, and is a program of its own, so that it serves the
tests and whoever tries something by hand (``python -m standins.login ADDRESS``, with the address of a D-Bus).

- `laboratory`: models of controllers, each with what its hardware sends and what that must be called;
- `gamepad`: these and a pad in a umockdev test bed; `uhid_pad`, `uhid_kinds`: pads that the kernel's own drivers take;
- `bluez`, `login`, `rtkit`, `portal`, `game_mode`, `notifier`, `tray`: services on a bus;
- `kwin`, `compositor`: desktops.

Simulated controllers that a player can choose (``sim:``) are part of the program: `nubshift.devices.simulated`.
"""
