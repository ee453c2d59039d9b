"""Reads `gswarm bench --sizes --json` and writes a plot of frame time against instances as SVG, both axes logarithmic."""
import json
import math
import sys

LEFT, TOP, WIDTH, HEIGHT = 70, 20, 600, 330


def place(instances, milliseconds, low_ms, high_ms):
    x = LEFT + WIDTH * (math.log10(instances) - 3) / (math.log10(5e6) - 3)
    y = TOP + HEIGHT * (1 - (math.log10(milliseconds) - math.log10(low_ms)) / (math.log10(high_ms) - math.log10(low_ms)))
    return x, y


def main():
    figures = json.load(sys.stdin)
    sizes = [(f["instances"], f["frame_ms"]) for f in figures["sizes"]]
    low, high = 0.05, 500
    parts = [
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 700 410" font-family="sans-serif" font-size="12">',
        '<rect width="700" height="410" fill="#15120e"/>',
    ]

    def text(x, y, words, anchor="middle", colour="#a3967f"):
        parts.append(f'<text x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}" fill="{colour}">{words}</text>')

    def line(x1, y1, x2, y2, colour, dash=""):
        parts.append(f'<line x1="{x1:.1f}" y1="{y1:.1f}" x2="{x2:.1f}" y2="{y2:.1f}" stroke="{colour}"{dash}/>')

    for power in range(3, 7):
        x, _ = place(10**power, 1, low, high)
        line(x, TOP, x, TOP + HEIGHT, "#3a3329")
        text(x, TOP + HEIGHT + 18, f"{10**power:,}".replace(",", " "))
    for ms in (0.1, 1, 10, 100):
        _, y = place(1000, ms, low, high)
        line(LEFT, y, LEFT + WIDTH, y, "#3a3329")
        text(LEFT - 8, y + 4, f"{ms:g} ms", "end")
    count, ms = sizes[-1]
    per_instance = ms / count
    a, b = place(1000, max(per_instance * 1000, low), low, high), place(5e6, per_instance * 5e6, low, high)
    line(*a, *b, "#a3967f", ' stroke-dasharray="3 4"')
    points = [place(n, t, low, high) for n, t in sizes]
    parts.append('<polyline fill="none" stroke="#d9a441" stroke-width="2" points="' + " ".join(f"{x:.1f},{y:.1f}" for x, y in points) + '"/>')
    for (x, y), (n, t) in zip(points, sizes):
        parts.append(f'<circle cx="{x:.1f}" cy="{y:.1f}" r="3.5" fill="#ece3d2"/>')
        text(x, y - 9, f"{t:.3g}", colour="#ece3d2")
    yard = figures["yardstick"]
    text(LEFT + WIDTH / 2, TOP + HEIGHT + 42, f"instances; five gestures, {yard['threads']} threads, {yard['target']}; dashed: in proportion to the largest")
    parts.append("</svg>")
    print("\n".join(parts))


main()
