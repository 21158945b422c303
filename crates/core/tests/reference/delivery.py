"""Reference values for the fluid line, the air hose and the gun, from libraries of others.

Run with Python 3.11, fluids 1.3.1, CoolProp 8.0.0 (PyPI); printed values are in the worked examples.
Nothing here is computed by our own code.
"""
from math import pi, sqrt, log

import CoolProp
import fluids
from CoolProp.CoolProp import PropsSI
from fluids.friction import friction_factor, one_phase_dP
from scipy.optimize import brentq

PSI = 6894.757293168361
IN, FT = 0.0254, 0.3048
print("fluids", fluids.__version__, "CoolProp", CoolProp.__version__)


def hose(name, ml_min, mpa_s, kg_m3, bore_in, feet):
    q = ml_min * 1e-6 / 60
    d = bore_in * IN
    dp = one_phase_dP(m=q * kg_m3, rho=kg_m3, mu=mpa_s * 1e-3, D=d, L=feet * FT, roughness=0.0)
    re = fluids.Reynolds(V=q / (pi / 4 * d * d), D=d, rho=kg_m3, mu=mpa_s * 1e-3)
    print(f"hose {name}: {dp / PSI:.4f} psi at Re {re:.0f}")


hose("350 of 100 mPa.s, 25 ft x 3/8", 350, 100, 1200, 0.375, 25)
hose("350 of 100 mPa.s, 25 ft x 1/4", 350, 100, 1200, 0.25, 25)
hose("900 of 60 mPa.s, 50 ft x 3/8", 900, 60, 1050, 0.375, 50)
hose("250 of 400 mPa.s, 35 ft x 1/2", 250, 400, 1400, 0.5, 35)
hose("120 of 25 mPa.s, 15 ft x 1/4", 120, 25, 900, 0.25, 15)
hose("6000 of water 1 mPa.s, 50 ft x 3/8", 6000, 1, 998, 0.375, 50)
hose("9000 of 1.5 mPa.s, 30 ft x 1/4", 9000, 1.5, 880, 0.25, 30)
hose("12000 of 2 mPa.s, 100 ft x 1/2", 12000, 2, 950, 0.5, 100)

# Water itself, properties by CoolProp at 20 C and 40 C: the same hose, the same flow.
for t in (20, 40):
    rho, mu = PropsSI("D", "T", t + 273.15, "P", 101325, "Water"), PropsSI("V", "T", t + 273.15, "P", 101325, "Water")
    hose(f"water at {t} C (rho {rho:.2f}, mu {mu * 1e3:.4f}), 5000, 25 ft x 1/4", 5000, mu * 1e3, rho, 0.25, 25)

# A power law, laminar, by the head loss of its own wall shear rate (Rabinowitsch): K 8 Pa.s^n, n 0.45, 1 L/min, 25 ft x 1/2.
k, n, q, r, length = 8.0, 0.45, 1e-3 / 60, 0.25 * IN, 25 * FT
shear = (3 * n + 1) / (4 * n) * 4 * q / (pi * r**3)
print(f"power law by wall shear: {2 * length / r * k * shear**n / PSI:.4f} psi")


def air(name, scfm, bore_in, feet, psig):
    t = 293.15
    mw_r = 8.314462618 / PropsSI("M", "Air")
    rho_n = PropsSI("D", "T", t, "P", 101325, "Air")
    m = scfm * FT**3 / 60 * rho_n
    mu = PropsSI("V", "T", t, "P", 101325 + psig * PSI, "Air")
    d, length = bore_in * IN, feet * FT
    a = pi / 4 * d * d
    re = m / a * d / mu
    f = friction_factor(Re=re, eD=1e-5 / d)
    p1 = 101325 + psig * PSI
    g2rt = (m / a) ** 2 * mw_r * t
    wants = lambda p2: p1**2 - p2**2 - g2rt * (f * length / d + 2 * log(p1 / p2))
    choke = max(sqrt(g2rt), 101325)
    if wants(choke) < 0:
        print(f"air {name}: chokes")
        return
    p2 = brentq(wants, choke, p1)
    print(f"air {name}: {(p2 - 101325) / PSI:.3f} psi left")


for scfm, bore, feet, psig in [
    (12, 0.25, 25, 50), (12, 0.3125, 25, 50), (12, 0.375, 25, 50), (12, 0.3125, 50, 50), (12, 0.25, 50, 50),
    (20, 0.375, 50, 60), (8, 0.25, 35, 40), (16, 0.375, 75, 80), (5, 0.25, 15, 30),
]:
    air(f"{scfm} scfm, {feet} ft x {bore} in, {psig} psig", scfm, bore, feet, psig)
