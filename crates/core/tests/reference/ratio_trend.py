"""Reference values for the trend of a ratio, its prediction band and Student's t, from libraries of others.

Run with Python 3.11, scipy 1.17.1, numpy (PyPI); printed values are in the worked examples. Nothing here is computed by our
own code.
"""
import numpy as np
import scipy
from scipy.optimize import brentq
from scipy.stats import linregress, norm, t

print("scipy", scipy.__version__)


def trend(name, x, y, lo, hi):
    x, y = np.array(x, float), np.array(y, float)
    n, line = len(x), linregress(x, y)
    fit = line.slope * x + line.intercept
    s = np.sqrt(((y - fit) ** 2).sum() / (n - 2))
    sxx, crit = ((x - x.mean()) ** 2).sum(), t.ppf(0.975, n - 2)
    half = lambda v: crit * s * np.sqrt(1 + 1 / n + (v - x.mean()) ** 2 / sxx)
    at = lambda v: line.slope * v + line.intercept
    print(f"{name}: slope {line.slope:.8f} s {s:.8f} p {line.pvalue:.3g} real {line.pvalue < 0.05}")
    print(f"   band at last: {at(x[-1]) - half(x[-1]):.6f} to {at(x[-1]) + half(x[-1]):.6f}")
    for limit, edge in ((hi, lambda v: at(v) + half(v) - hi), (lo, lambda v: at(v) - half(v) - lo)):
        try:
            print(f"   meets {limit} at {brentq(edge, x[-1], x[-1] + 1000):.5f}")
        except ValueError:
            print(f"   never meets {limit} within 1000")


tolerance_8 = (8 / 1.05, 8 / 0.95)
trend("adhesive", range(1, 11), [8.02, 7.97, 8.05, 8.04, 8.10, 8.06, 8.13, 8.11, 8.17, 8.16], *tolerance_8)
trend("falling", [0, 2.1, 4.0, 6.6, 8.1, 10.4, 12.0, 14.2, 15.9], [8.21, 8.19, 8.13, 8.14, 8.06, 8.05, 7.99, 7.97, 7.92], *tolerance_8)
trend("catalyst", [0, 3, 6, 9, 12, 15, 18, 21, 24, 27], [2.01, 1.99, 2.00, 1.96, 1.97, 1.93, 1.94, 1.90, 1.91, 1.87], 1.5, 2.5)
trend("flat", range(8), [8.02, 7.98, 8.01, 7.99, 8.00, 8.03, 7.97, 8.00], *tolerance_8)
trend("scattered", range(10), [7.9, 8.3, 7.8, 8.35, 8.0, 8.4, 7.95, 8.45, 8.1, 8.5], *tolerance_8)
for alpha, freedom in ((0.05, 1), (0.05, 6), (0.05, 8), (0.05, 10), (0.05, 30), (0.01, 10), (0.05, 9998)):
    print(f"t {alpha} {freedom}: {t.ppf(1 - alpha / 2, freedom):.6f}")
for z in (-1.5, 0.5, 2.326347874):
    print(f"normal {z}: {norm.cdf(z):.9f}")
