"""The same fluid lines solved by scipy's brentq, beside what criterion measured of core in the same run.

`bench/run` calls it with the folder criterion writes to; by hand:
    python3 -m venv v && v/bin/pip install scipy==1.17.1 && v/bin/python reference_brentq.py target/criterion
"""
import json
import pathlib
import sys
import time
from math import log10, pi

import scipy
from scipy.optimize import brentq

CASES = [  # bore mm, length mm, lift mm, nozzle mm, mPa.s, kg/L, kPa: those of benches/core.rs
    (9.525, 7620, 500, 1.8, 100, 1.2, 69), (6.35, 15240, 0, 1.4, 30, 0.9, 120), (12.7, 10668, 1000, 2.2, 400, 1.4, 200),
    (6.35, 15240, 0, 4.0, 1.0, 1.0, 300), (9.525, 15240, 0, 5.0, 0.8, 0.8, 400),
]


def total(q, bore, length, lift, hole, mu, rho):
    re = 4 * rho * q / (pi * bore * mu)
    if re <= 2300:
        hose = 128 * mu * length * q / (pi * bore**4)
    else:
        v = 4 * q / (pi * bore * bore)
        hose = length / bore * rho * v * v / 2 / (1.8 * log10(6.9 / re)) ** 2
    v = q / (0.7 * pi * hole * hole / 4)
    return hose + rho * 9.80665 * lift + rho / 2 * v * v + 128 * mu * 0.003 * q / (pi * hole**4)


def solve(bore, length, lift, hole, mpa_s, kg_l, kpa):
    args = (bore / 1e3, length / 1e3, lift / 1e3, hole / 1e3, mpa_s / 1e3, kg_l * 1e3)
    return brentq(lambda q: total(q, *args) - kpa * 1e3, 1e-12, 1e-2, xtol=1e-14)


rounds = 2000
start = time.perf_counter()
for _ in range(rounds):
    for case in CASES:
        solve(*case)
each = (time.perf_counter() - start) / rounds / len(CASES)
print(f"scipy {scipy.__version__} brentq: {each * 1e6:.2f} us a solve")
if len(sys.argv) > 1:
    kept = pathlib.Path(sys.argv[1]) / "five fluid lines solved" / "new" / "estimates.json"
    ours = json.loads(kept.read_text())["mean"]["point_estimate"] / 1e9 / len(CASES)
    ratio = each / ours
    print("| what | figure | aim | met |\n|---|---|---|---|")
    print(f"| one solve of the fluid line | {ours * 1e6:.3f} us | <= 5 us | {'yes' if ours <= 5e-6 else 'NO'} |")
    print(f"| beside scipy {scipy.__version__} brentq | {each * 1e6:.1f} us: **{ratio:.0f} times** | >= 100 | {'yes' if ratio >= 100 else 'NO'} |")
