"""The kernel path, proven in a virtual machine with a real kernel: uinput, evdev, grab, unplugging, kill. Short in the tests,
for as long as is wanted by hand."""
