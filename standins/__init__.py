"""What plays the other side of Nub Shift: controllers, services of a bus, desktops, and the programs beside it.

Each is small and keeps to the public interface of what it stands for. The services are programs of their own, so that they
serve the tests and whoever tries something by hand (``python -m standins.login ADDRESS``, with the address of a D-Bus).

- `laboratory`: models of controllers, each with what its hardware sends and what that must be called;
- `gamepad`: these and a pad in a umockdev test bed; `uhid_pad`, `uhid_kinds`: pads that the kernel's own drivers take;
- `bluez`, `login`, `rtkit`, `portal`, `game_mode`, `notifier`, `tray`: services on a bus;
- `bus`: a private D-Bus with one of them; `kwin`, `compositor`: desktops; `wayland_session`: a session of sway or weston;
  `desktop`: programs with a window and without;
- `game`: what receives; `screen_reader`: what is told of the window; `client`: what speaks to the runner, as the window does;
- `port_users`: what asks a source or a channel everything that its port promises. `waiting`: for a condition.

Simulated controllers that a player can choose (``sim:``) are part of the program: `nubshift.devices.simulated`.
"""
