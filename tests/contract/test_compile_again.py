"""Compiling an edited profile: what is taken over from the time before is what would be made anew."""

from __future__ import annotations

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nubshift.engine.compile import Compiler, compile_profile
from nubshift.model.edits import with_feel_put
from nubshift.model.profile import Feel, Profile
from tests.support.anything import profiles
from tests.support.profiles import four, made


@settings(max_examples=40, suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large])
@given(st.lists(profiles(), min_size=2, max_size=3), st.lists(st.integers(0, 5), max_size=6))
def test_compiled_again_it_is_the_same_as_compiled_anew(some: list[Profile], order: list[int]) -> None:
    compiler = Compiler()
    for index in order:
        profile, guest = some[index % len(some)], some[(index + 1) % len(some)]
        if index > 2:
            profile = with_feel_put(profile, "base", Feel("right_stick", speed=100.0 + index))
        assert compiler.program(profile, {"guest": guest}) == compile_profile(profile, {"guest": guest})


def test_an_edit_of_one_feel_makes_one_entry_anew() -> None:
    profile = made({"base": {"south": "A", "left_stick": four(), "dpad": four()}, "aim": {"south": "B"}})
    compiler = Compiler()
    before = compiler.program(profile)
    after = compiler.program(with_feel_put(profile, "base", Feel("left_stick", inner=0.2)))
    anew = [key for key in before.positions if before.positions[key] is not after.positions[key]]
    assert anew == [("1", "left_stick")]
    assert all(before.buttons[key] is after.buttons[key] for key in before.buttons)
