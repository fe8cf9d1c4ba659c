"""Rest, reach, rate, proposals, trials and pursuit on data of which the truth is known."""

from __future__ import annotations

from math import cos, hypot, pi, sin
from random import Random

import pytest

from nubshift.analysis.proposals import dead_zone, gyro_threshold, lag, outer_edge, press_depth, smoothing, wear
from nubshift.analysis.pursuit import pursuit_of
from nubshift.analysis.rate import rate_of
from nubshift.analysis.reach import pulled_to, pulls_in, reach_of
from nubshift.analysis.rest import rest_of
from nubshift.analysis.spread import rates_within
from nubshift.analysis.trace import evenly, trace_of
from nubshift.analysis.trials import compared, ranked, standing
from nubshift.analysis.walk import mark_at
from nubshift.devices.faults import Faults
from tests.analysis.test_twenty_sticks import Bench


def rested(faults: Faults, ms: float = 3000, seed: int = 5) -> Bench:
    bench = Bench(faults, seed)
    bench.hold(0, 0, ms)
    return bench


def test_rest_says_centre_and_noise() -> None:
    rest = rest_of(trace_of(rested(Faults(noise=0.006, offset=(0.02, -0.03))).reports))
    assert rest is not None
    assert rest.centre == (pytest.approx(0.02, abs=0.001), pytest.approx(-0.03, abs=0.001))
    assert rest.noise == (pytest.approx(0.006, rel=0.1), pytest.approx(0.006, rel=0.1))
    assert hypot(*rest.centre) < rest.within < rest.bound
    assert rest.drift == 0.0
    assert rest.spread == 0.0
    assert rest.peak is None
    assert rest.every == pytest.approx(0.004)


def test_two_seconds_are_needed() -> None:
    assert rest_of(trace_of(rested(Faults(noise=0.004), 1500).reports)) is None
    assert rest_of(trace_of([])) is None


def test_a_control_that_says_nothing_rests_without_noise() -> None:
    rest = rest_of(trace_of([(0, 0.01, 0.02)]), until=2.5)
    assert rest is not None
    assert rest.noise == (pytest.approx(0.0), pytest.approx(0.0))
    assert rest.bound == pytest.approx(hypot(0.01, 0.02))


def test_drift_and_hum_are_found_in_the_noise() -> None:
    chance = Random(1)
    drifting = [
        (t * 4000, 0.0002 * t * 0.004 / 0.004 + chance.gauss(0, 0.001), chance.gauss(0, 0.001)) for t in range(1, 600)
    ]
    rest = rest_of(trace_of([(t, 0.01 + x / 60, y) for t, x, y in drifting]))
    assert rest is not None
    assert rest.drift == pytest.approx(0.0002 / 0.004, rel=0.15)
    humming = [(t * 4000, 0.01 * sin(2 * pi * 50 * t * 0.004) + chance.gauss(0, 0.001), 0.0) for t in range(600)]
    rest = rest_of(trace_of(humming))
    assert rest is not None
    assert rest.peak is not None
    assert rest.peak[0] == pytest.approx(50, abs=1)
    assert rest.peak[1] == pytest.approx(0.01, rel=0.3)


def test_a_stuck_spring_is_seen_after_returns_from_all_sides_only() -> None:
    bench = rested(Faults(noise=0.002, offset=(0.01, 0.0), stuck=0.05), 2200)
    for angle in (0.0, 0.2, 0.4, 0.1):
        bench.flick(angle)
    one_sided = rest_of(trace_of(bench.reports))
    assert one_sided is not None
    assert one_sided.spread == 0.0
    assert "not yet seen" not in dead_zone(one_sided).reason
    for angle in (1.6, 3.1, 4.7):
        bench.flick(angle)
    rest = rest_of(trace_of(bench.reports))
    assert rest is not None
    assert rest.spread == pytest.approx(0.05, abs=0.004)
    assert rest.centre == (pytest.approx(0.01, abs=0.003), pytest.approx(0.0, abs=0.003))
    assert "returns up to 5." in dead_zone(rest).reason
    assert (
        "its return after release has not been measured yet"
        in dead_zone(rest_of(trace_of(rested(Faults(noise=0.002)).reports))).reason
    )  # type: ignore[arg-type]


def test_a_held_stick_is_no_rest() -> None:
    bench = Bench(Faults(noise=0.004), 3)
    bench.hold(0.6, 0.0, 5000)
    assert rest_of(trace_of(bench.reports)) is None


def circled(faults: Faults, turns: int = 2) -> list[tuple[float, ...]]:
    bench = Bench(faults, 2)
    bench.circle(turns)
    return bench.reports


def test_reach_finds_the_short_side_and_the_gate() -> None:
    reach = reach_of(trace_of(circled(Faults(noise=0.002, reach=(0.95, 0.95, 0.7, 0.95)))))
    assert reach.complete
    assert reach.shortest == pytest.approx(0.7, abs=0.02)
    assert reach.shortest_at == pytest.approx(270, abs=20)
    assert not reach.square
    assert reach.centre[0] == pytest.approx(0.06, abs=0.08)
    assert reach.out_of_round == pytest.approx(0.28, abs=0.06)
    proposal = outer_edge(reach)
    assert proposal.value < 0.7
    assert "left" in proposal.reason
    square = reach_of(trace_of(circled(Faults(gate="square"))))
    assert square.square
    assert square.longest == pytest.approx(1.41, abs=0.03)


def test_half_a_circle_is_not_enough() -> None:
    reports = circled(Faults(), 1)
    half = reach_of(trace_of(reports[: len(reports) // 2]))
    assert not half.complete
    assert half.seen == pytest.approx(0.5, abs=0.1)
    assert not reach_of(trace_of([])).complete
    assert pulled_to(trace_of([(t * 1000, min(0.97, t / 100)) for t in range(200)], 1)) == pytest.approx(0.97)


def test_pulls_are_counted_when_let_go_of() -> None:
    trace = trace_of([(t * 4000, abs(sin(t / 30))) for t in range(230)], 1)
    assert pulls_in(trace) == 2
    assert pulls_in(trace_of([(0, 0.0), (4000, 1.0)], 1)) == 0


def test_rate_jitter_and_lost_reports() -> None:
    chance = Random(4)
    t, reports = 0.0, []
    for step in range(4000):
        t += 4000 + chance.gauss(0, 150)
        if step % 100 != 50:
            reports.append((t, sin(step / 20), 0.0))
    rate = rate_of(trace_of(reports))
    assert rate is not None
    assert rate.every == pytest.approx(0.004, rel=0.02)
    assert rate.jitter == pytest.approx(0.0003, rel=0.2)
    assert rate.lost == pytest.approx(40, abs=6)  # where it turns around it hardly moves, and that may be silence
    assert not rate.good
    even = rate_of(trace_of([(step * 4000, sin(step / 20), 0.0) for step in range(1000)]))
    assert even is not None
    assert even.lost == 0
    assert even.good
    assert rate_of(trace_of([(step * 4000, 0.5, 0.0) for step in range(1000)])) is None  # nothing moved


def test_silence_while_nothing_moves_is_no_loss() -> None:
    reports = [(step * 4000 + (2_000_000 if step > 500 else 0), sin(step / 20), 0.0) for step in range(1000)]
    reports[501] = (reports[501][0], reports[500][1], 0.0)
    rate = rate_of(trace_of(reports))
    assert rate is not None
    assert rate.lost == 0


def test_smoothing_is_proposed_only_for_noise_that_is_felt() -> None:
    calm = rest_of(trace_of(rested(Faults(noise=0.003)).reports))
    rough = rest_of(trace_of(rested(Faults(noise=0.02)).reports))
    assert calm is not None
    assert rough is not None
    assert smoothing(calm, 0.05, 0.95) is None
    proposal = smoothing(rough, 0.12, 0.95)
    assert proposal is not None
    assert proposal.field == "min_cutoff"
    assert 2.0 <= proposal.value <= 20
    assert f"{lag(proposal.value) * 1000:.0f} ms" in proposal.reason
    assert lag(0.0) == 0.0


def test_triggers_and_gyro_get_their_proposals() -> None:
    chance = Random(2)
    noisy = rest_of(trace_of([(t * 4000, abs(chance.gauss(0.08, 0.01))) for t in range(700)], 1))
    assert noisy is not None
    proposal = press_depth(noisy)
    assert proposal is not None
    assert proposal.value > 0.08 + 0.05
    clean = rest_of(trace_of([(t * 4000, 0.0) for t in range(700)], 1))
    assert clean is not None
    assert press_depth(clean) is None
    still = trace_of([(t * 4000, 0.5 + chance.gauss(0, 0.3), chance.gauss(0, 0.3), 0.0) for t in range(700)], 3)
    within, noise = rates_within(still)
    assert noise == pytest.approx(0.3, rel=0.1)
    assert 0.7 < within < 1.6
    assert gyro_threshold(within).value >= within


def test_wear_is_said_in_words() -> None:
    bench = rested(Faults(noise=0.02, offset=(0.08, 0.0), stuck=0.08), 2500)
    for angle in (0.0, 1.6, 3.1, 4.7, 0.8, 2.3):
        bench.flick(angle)
    rest = rest_of(trace_of(bench.reports))
    reach = reach_of(trace_of(circled(Faults(reach=(0.6, 1, 1, 1)))))
    said = wear(rest, reach)
    assert len(said) == 4
    assert "off centre" in said[0]
    assert "spring" in said[1]
    assert "noise" in said[2]
    assert "right" in said[3]
    assert wear(rest_of(trace_of(rested(Faults(noise=0.002)).reports)), None) == []


def test_reports_that_go_back_in_time_are_left_out() -> None:
    trace = trace_of([(0, 0.1, 0), (4000, 0.2, 0), (2000, 0.9, 0), (8000, 0.3, 0)])
    assert list(trace.values[:, 0]) == [0.1, 0.2, 0.3]
    assert len(evenly(trace)) == 3


# Trials


def test_two_settings_are_ranked_and_equal_ones_can_not_be_told() -> None:
    chance = Random(7)
    good = [2.0 * chance.lognormvariate(0, 0.1) for _ in range(5)]
    bad = [2.8 * chance.lognormvariate(0, 0.1) for _ in range(5)]
    same = [2.0 * chance.lognormvariate(0, 0.1) for _ in range(5)]
    assert compared(good, bad).better == "first"
    assert compared(bad, good).better == "second"
    assert compared(good, bad).share == pytest.approx(0.29, abs=0.08)
    assert compared(good, same).better == "open"
    assert ranked({"bad": bad, "good": good, "none": []}) == ["good", "bad"]


def test_too_few_rounds_say_how_many_more() -> None:
    assert compared([1.0], [2.0, 2.0, 2.0]).more == 2
    assert compared([2.0, 2.4, 1.9], [2.4, 2.9, 2.2]).more > 0
    assert compared([2.0, 2.0, 2.0], [2.0, 2.0, 2.0]).better == "open"
    assert compared([2.0, 2.0, 2.0], [2.5, 2.5, 2.5]).better == "first"


def test_equal_settings_are_rarely_called_different() -> None:
    chance = Random(11)
    wrong = sum(
        compared(*([[chance.lognormvariate(0, 0.2) for _ in range(6)] for _ in range(2)])).better != "open"
        for _ in range(400)
    )
    assert wrong <= 34  # 5 % of 400, and what chance adds


def test_a_standing_has_a_range_from_two_rounds_on() -> None:
    one, two = standing([2.0]), standing([2.0, 3.0])
    assert one is not None
    assert one.low is None
    assert two is not None
    assert two.low is not None
    assert two.low < two.mean < (two.high or 0)
    assert standing([]) is None


# Pursuit


def followed(late: float = 0.0, off: float = 0.0, shake: float = 0.0) -> list[tuple[float, float, float]]:
    chance = Random(3)
    aims = []
    for step in range(1600):
        t = step / 100
        x, y = mark_at(max(0.0, t - late))
        aims.append((t, x + off + chance.gauss(0, shake), y))
    return aims


def test_pursuit_finds_error_lag_and_roughness() -> None:
    exact, late, off, rough = (pursuit_of(followed(*args)) for args in ((), (0.15,), (0, 2.0), (0, 0, 0.3)))
    assert exact is not None
    assert late is not None
    assert off is not None
    assert rough is not None
    assert exact.mean == pytest.approx(0.0, abs=1e-6)
    assert late.late == pytest.approx(0.15, abs=0.01)
    assert off.mean == pytest.approx(2.0)
    assert off.worst == pytest.approx(2.0)
    assert rough.rough > 5 * exact.rough
    assert pursuit_of(followed()[:50]) is None


def test_the_mark_sets_out_slowly_and_goes_around() -> None:
    assert mark_at(0.0) == (0.0, 0.0)
    assert hypot(*mark_at(0.1)) < 0.5
    assert mark_at(8.5) == (pytest.approx(0.0, abs=1e-9), pytest.approx(0.0, abs=1e-9))
    widest = max(mark_at(t / 100)[0] for t in range(900))
    assert widest == pytest.approx(26.0, abs=0.01)


def test_faults_do_what_they_are_called() -> None:
    square = Faults(gate="square")
    assert hypot(*square.place(cos(pi / 4), sin(pi / 4), None)) == pytest.approx(2**0.5)
    assert Faults(reach=(0.5, 1, 1, 1)).place(1.0, 0.0, None) == (0.5, 0.0)
    assert Faults(offset=(0.1, 0.0)).place(0.0, 0.0, None) == (0.1, 0.0)
    assert Faults(stuck=0.1).place(0.0, 0.0, pi) == (pytest.approx(-0.1), pytest.approx(0.0))
    assert Faults(offset=(0.1, 0.0)).place(1.0, 0.0, None) == (1.0, 0.0)  # pushed against the edge, rest is no matter
