"""The window's frame: top, workspaces' tabs, notices, finder, menus, prompts, Now strip."""
