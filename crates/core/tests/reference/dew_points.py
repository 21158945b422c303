"""Dew points by a reference library, for tests/worked_examples/conditions.rs.

    python3 -m venv v && v/bin/pip install PsychroLib==2.5.0 && v/bin/python dew_points.py
"""
import psychrolib

psychrolib.SetUnitSystem(psychrolib.SI)
CASES = [(25, 50), (21, 65), (30, 85), (10, 90), (15, 40), (35, 30), (40, 20), (5, 95), (12, 75), (18, 60), (22, 45), (28, 70),
         (33, 55), (8, 80), (16, 88), (24, 35), (45, 60), (20, 99)]
for air, rh in CASES:
    print(f"({air}.0, {rh}.0, {psychrolib.GetTDewPointFromRelHum(air, rh / 100):.2f}),")
