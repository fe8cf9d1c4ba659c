"""What tools/kernel_path proves in a virtual machine with a real kernel, short. Skipped, with the reason, where no machine or
one of its proofs can be had."""

from __future__ import annotations

import pytest

from kernel_path.machine import PROOFS, Machines, Proof, why_no_machine


@pytest.fixture(scope="module")
def machines(request: pytest.FixtureRequest) -> Machines:
    if reason := why_no_machine():
        pytest.skip(reason)
    chosen = [item.callspec.params["proof"] for item in request.session.items if item.path == request.path]  # type: ignore[attr-defined]
    return Machines([proof for proof in chosen if not proof.why_not()])


@pytest.mark.parametrize("proof", [proof for proof in PROOFS if proof.tested], ids=lambda proof: proof.name)
def test_it_holds_over_real_nodes(machines: Machines, proof: Proof) -> None:
    if reason := proof.why_not():
        pytest.skip(reason)
    said = machines.said(proof)
    print(said)
    assert proof.holds(said), said
