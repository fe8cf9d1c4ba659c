"""A panel that edits what a control is used as: what the rows and pictures of a role need of it."""

from __future__ import annotations

from msgspec.structs import replace

from nubshift.app.editors.panel import Panel
from nubshift.model.roles import Role


class RoleEditing(Panel):
    """The panel of a control that acts by its position."""

    @property
    def role(self) -> Role | None:
        """What it is used as."""
        binding = self.binding
        return binding.role if binding else None

    def change_role(self, title: str, merge: str = "", **values: object) -> None:
        """Change fields of the role."""

        def change(binding: object) -> object:
            role = getattr(binding, "role", None)
            return replace(binding, role=replace(role, **values)) if role is not None else binding  # type: ignore[type-var]

        self.change_binding(title, change, merge)  # type: ignore[arg-type]

    def put_role(self, title: str, role: Role, merge: str = "") -> None:
        """Put another role in its place."""
        self.change_binding(title, lambda binding: replace(binding, role=role), merge)
