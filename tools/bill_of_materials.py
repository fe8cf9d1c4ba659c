"""What the program is shipped with, with versions and licences: a software bill of materials (CycloneDX 1.5, JSON).

``python tools/bill_of_materials.py FILE``. It lists what the program itself requires, and what that requires, as it is
installed here, so requirements.lock decides the versions. The same environment gives the same bytes.
"""

from __future__ import annotations

import json
import re
import sys
from importlib.metadata import Distribution, distribution
from pathlib import Path
from typing import Any

from packaging.requirements import Requirement

PROGRAM = "nubshift"
IN_WORDS = {
    "BSD License": "BSD-3-Clause",
    "Apache Software License": "Apache-2.0",
    "MIT License": "MIT",
    "LGPL-2.1-or-later": "LGPL-2.1-or-later",
    "LGPL v3": "LGPL-3.0-only",
    "BSD-3-Clause": "BSD-3-Clause",
}
"""How older packages say their licence, and the name of it in the SPDX list."""


def shipped(name: str = PROGRAM) -> list[Distribution]:
    """What `name` requires without extras, and what that requires, ordered by name; without itself."""
    environment = {"extra": ""}
    found: dict[str, Distribution] = {}
    open_names = [name]
    while open_names:
        known = distribution(open_names.pop())
        for line in known.requires or ():
            wanted = Requirement(line)
            key = re.sub(r"[-_.]+", "-", wanted.name).lower()
            if key not in found and (wanted.marker is None or wanted.marker.evaluate(environment)):
                found[key] = distribution(wanted.name)
                open_names.append(wanted.name)
    return [found[key] for key in sorted(found)]


def licence(package: Distribution) -> str:
    """As an SPDX expression where the package says it so that this can be told, else in its own words; "" if nowhere."""
    about = package.metadata.json
    if said := about.get("license_expression"):
        return str(said)
    classes = [line.rsplit(" :: ", 1)[1] for line in about.get("classifier", ()) if line.startswith("License ::")]
    words = [*str(about.get("license", "")).strip().splitlines()[:1], *classes]
    return next((IN_WORDS[line] for line in words if line in IN_WORDS), words[0] if words else "")


def bill() -> dict[str, Any]:
    """The whole bill."""
    program = distribution(PROGRAM)
    return {
        "bomFormat": "CycloneDX",
        "specVersion": "1.5",
        "version": 1,
        "metadata": {"component": {**_component(program), "type": "application"}},
        "components": [_component(package) for package in shipped()],
    }


def _component(package: Distribution) -> dict[str, Any]:
    name, version = package.metadata["Name"], package.version
    purl = f"pkg:pypi/{re.sub(r'[-_.]+', '-', name).lower()}@{version}"
    said = licence(package)
    kind = "expression" if re.fullmatch(r"[\w.+-]+( (AND|OR|WITH) [\w.+-]+)*", said) else ""
    licences = [{"expression": said}] if kind else [{"license": {"name": said}}]
    return {"type": "library", "bom-ref": purl, "name": name, "version": version, "purl": purl, "licenses": licences}


if __name__ == "__main__":
    Path(sys.argv[1]).write_text(json.dumps(bill(), indent=2) + "\n", encoding="utf-8")
