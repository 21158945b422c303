"""Spots drawn by lot, by numpy's PCG64 set to the state of a seed, on two plates; and 80/20 and spot means by plain sums. Python 3, numpy 2.

The seed's text is hashed with SHA-256: its first 16 bytes are the state, the others the stream, as the generator's paper begins one
(state + increment, one step). numpy's `random()` is the upper 53 bits of each number over 2**53. Run: python3 spots_by_lot.py
"""

import hashlib

import numpy as np

FT2 = 0.09290304
MULTIPLIER = 0x2360ED051FC65DA44385DF649FCCF645
MASK = (1 << 128) - 1
INCH = 25.4


def generator(seed):
    digest = hashlib.sha256(seed.encode()).digest()
    state, stream = int.from_bytes(digest[:16], "big"), int.from_bytes(digest[16:], "big")
    inc = ((stream << 1) | 1) & MASK
    bits = np.random.PCG64()
    bits.state = {"bit_generator": "PCG64", "state": {"state": ((state + inc) * MULTIPLIER + inc) & MASK, "inc": inc},
                  "has_uint32": 0, "uinteger": 0}
    return np.random.Generator(bits)


def areas(m2):
    of = max(1, int(np.ceil(round(m2 / (100 * FT2), 9))))
    if of <= 3:
        return of, of
    if m2 <= 1000 * FT2 * (1 + 1e-6):
        return of, 3
    return of, 3 + int(np.ceil(round((m2 - 1000 * FT2) / (1000 * FT2), 9)))


def draw(plates, seed):
    """Plates as (name, wide mm, high mm), one side each."""
    lot = generator(seed)
    sizes = [w * h / 1e6 for _, w, h in plates]
    whole = sum(sizes)
    of, count = areas(whole)
    left = list(range(of))
    cells = sorted(left.pop(0) if count == of else left.pop(min(int(lot.random() * len(left)), len(left) - 1)) for _ in range(count))
    each = whole / of
    for area, cell in enumerate(cells, 1):
        for spot in range(1, 6):
            while True:
                along, beside = cell * each + lot.random() * each, lot.random()
                at = 0
                while at + 1 < len(sizes) and along >= sizes[at]:
                    along -= sizes[at]
                    at += 1
                name, wide, high = plates[at]
                across, down = along / sizes[at] * wide, beside * high
                if min(across, wide - across, down, high - down) >= INCH:
                    break
            print(f"area {area} spot {spot}: {name} {across:.0f} across, {down:.0f} down")


if __name__ == "__main__":
    print("chances of 7Q4K:", [f"{x:.12f}" for x in generator("7Q4K").random(3)])
    draw([("hull", 4000.0, 2000.0), ("keel", 3000.0, 500.0)], "7Q4K")
    print("six areas of 100 ft2, three of them by lot:")
    draw([("deck", 10000.0, 5000.0)], "WB6M")
    for ft2 in [80, 100, 101, 250, 300, 301, 640, 1000, 1001, 4200, 12345]:
        of, count = areas(ft2 * FT2)
        print(f"{ft2} ft2: {of} areas, {count} measured, {5 * count} spots")
    for spot in ([118, 124, 121], [109, 113, 112], [131, 127, 129], [98, 102, 99], [121, 119, 125]):
        print(f"spot {np.mean(spot):.2f}")
    read = np.array([162, 171, 158, 149, 166, 174, 160, 155, 168, 161])
    print(f"80/20: mean {read.mean():.1f}, under 160 {100 * (read < 160).mean():.0f} %, under 128 {(read < 128).sum()}")
