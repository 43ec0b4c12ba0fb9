#!/usr/bin/env python3
"""How well joints are followed on clips of riders whose true places are known, which are not part of this
project: a folder of NAME.mp4 with NAME.json (frames[] with `surface`, the spot of skin or cloth under each
joint, and `horse`; pixels, the centre of the first pixel at 0.5, 0.5).

    tools/measure/riders.py COMMAND-LINE-PROGRAM FOLDER [--anchors 3] [--read]

Three moments are marked where the truth lies, followed by `follow`, and held against it; errors in per cent of
the trunk, with the constant part of each joint taken out. "said": the share of frames on which the joint is
not hidden. --read holds what `read` finds without a mark against the ends of the bones instead: the scatter
about each joint's constant part, and how often the stated 90 % interval holds it; of toe, poll, withers and
croup how far the place itself is off."""

import argparse
import csv
import json
import math
import pathlib
import subprocess
import sys
import tempfile

# Of these the place itself is held, constant part and all: within that share of the trunk in half of the frames.
ENDS = {"toe": 8, "poll": 12, "withers": 12, "croup": None}
JOINTS = ["ear", "shoulder", "elbow", "wrist", "hip", "knee", "ankle", "toe"]
HORSE = {"withers": "horse_withers", "poll": "horse_poll", "croup": "horse_croup"}
LANDMARKS = ("ear eye chin shoulder elbow wrist knuckle hip knee ankle heel toe leather_top iron bit poll withers "
             "girth cantle croup").split()


def truth_of(frame):
    """Display pixels as this project counts them: the centre of the first pixel is 0, 0."""
    out = {j: frame["surface"][j] for j in JOINTS if j in frame["surface"]}
    out.update({l: frame["horse"][h] for l, h in HORSE.items() if h in frame["horse"]})
    return {k: (x - 0.5, y - 0.5) for k, (x, y) in out.items()}


def marks(clip, frames):
    """Truth of those frames as COCO key points."""
    annotations = []
    for i, n in enumerate(frames):
        at = truth_of(clip["frames"][n])
        points = []
        for l in LANDMARKS:
            x, y = at.get(l, (0, 0))
            points += [x, y, 2 if l in at else 0]
        annotations.append({"id": i + 1, "image_id": 1, "category_id": 1, "iscrowd": 0, "keypoints": points,
                            "num_keypoints": len(at), "bbox": [0, 0, 1, 1], "area": 1,
                            "aspen": {"frame": n, "view": "side", "travel": clip["travels"]}})
    return {"images": [{"id": 1, "file_name": "clip.mp4", "width": clip["width"], "height": clip["height"]}],
            "categories": [{"id": 1, "name": "rider_side", "keypoints": LANDMARKS}], "annotations": annotations}


def share(values, part):
    values = sorted(values)
    return values[min(len(values) - 1, int(part * len(values)))] if values else float("nan")


def followed(program, film, clip, anchors):
    last = len(clip["frames"]) - 1
    frames = [round((i + 0.5) * last / anchors) for i in range(anchors)]
    with tempfile.TemporaryDirectory() as folder:
        at = pathlib.Path(folder) / "marks.json"
        at.write_text(json.dumps(marks(clip, frames)))
        out = pathlib.Path(folder) / "tracks.csv"
        subprocess.run([program, "follow", str(film), str(at), "-o", str(out)], check=True)
        with out.open() as rows:
            return frames, list(csv.DictReader(rows))


def report(name, clip, anchors, rows):
    trunks = [math.dist(truth_of(f)["shoulder"], truth_of(f)["hip"]) for f in clip["frames"]]
    trunk = sum(trunks) / len(trunks)
    print(f"{name}: {len(clip['frames'])} frames, trunk {trunk:.0f} px, marked at {anchors}")
    print(f"  {'joint':9} {'said %':>7} {'half %':>7} {'9 of 10':>8} {'worst %':>8} {'within 5 %':>11}")
    every = []
    for joint in JOINTS + list(HORSE):
        off, said, seen = [], 0, 0
        for row in rows:
            if row["landmark"] != joint:
                continue
            seen += 1
            if row.get("hidden") == "1":
                continue
            said += 1
            x, y = truth_of(clip["frames"][int(row["frame"])])[joint]
            off.append((float(row["x"]) - x, float(row["y"]) - y))
        if not off:
            print(f"  {joint:9} {0:7.0f}")
            continue
        middle = [sorted(o[i] for o in off)[len(off) // 2] for i in (0, 1)]
        errors = [100 * math.dist(o, middle) / trunk for o in off]
        every += errors
        within = 100 * sum(e <= 5 for e in errors) / len(errors)
        print(f"  {joint:9} {100 * said / max(1, seen):7.0f} {share(errors, 0.5):7.1f} {share(errors, 0.9):8.1f} "
              f"{max(errors):8.1f} {within:10.0f}%")
    print(f"  {'all':9} {'':7} {share(every, 0.5):7.1f} {share(every, 0.9):8.1f} {max(every):8.1f} "
          f"{100 * sum(e <= 5 for e in every) / len(every):10.1f}%")


def read_by_itself(name, program, film, clip):
    """Every seventh frame, as nobody marked it."""
    frames = list(range(3, len(clip["frames"]) - 2, 7))
    said = subprocess.run([program, "read", str(film), "--frames", ",".join(map(str, frames))], check=True,
                          capture_output=True, text=True)
    found = json.loads(said.stdout)
    gaits = ", ".join(f"{s['gait']} {s['first']}-{s['last']}" for s in found["stretches"])
    print(f"{name}: found on {sum(bool(f['riders']) for f in found['frames'])} of {len(frames)} frames; {gaits}")
    print(f"  {'joint':9} {'constant %':>11} {'half %':>7} {'9 of 10':>8} {'in 90 %':>8}")
    every, held = [], []
    for joint in JOINTS[:7]:
        off = []
        for f in found["frames"]:
            at = f["riders"][0]["landmarks"].get(joint) if f["riders"] else None
            if not at:
                continue
            points = clip["frames"][f["frame"]]["points"]
            trunk = math.dist(points["shoulder"], points["hip"])
            x, y = points[joint][0] - 0.5, points[joint][1] - 0.5
            off.append(((at["x"] - x) / trunk, (at["y"] - y) / trunk, at["sd_px"] / trunk))
        if not off:
            print(f"  {joint:9} never")
            continue
        middle = [sum(o[i] for o in off) / len(off) for i in (0, 1)]
        errors = [100 * math.dist(o[:2], middle) for o in off]
        # Two independent axes: nine of ten lie within 2.146 standard deviations.
        inside = [e / 100 <= 2.146 * o[2] for e, o in zip(errors, off)]
        every += errors
        held += inside
        print(f"  {joint:9} {100 * math.hypot(*middle):11.1f} {share(errors, 0.5):7.1f} {share(errors, 0.9):8.1f} "
              f"{100 * sum(inside) / len(inside):7.0f}%")
    print(f"  {'all':9} {'':11} {share(every, 0.5):7.1f} {share(every, 0.9):8.1f} "
          f"{100 * sum(held) / len(held):7.0f}%")
    print(f"  {'ends':9} {'on frames':>11} {'half %':>7} {'9 of 10':>8} {'aim':>8}")
    for end, aim in ENDS.items():
        off = []
        for f in found["frames"]:
            at = f["riders"][0]["landmarks"].get(end) if f["riders"] else None
            if at:
                truth = clip["frames"][f["frame"]]
                points = truth["points"]
                x, y = points[end] if end in points else truth["horse"][HORSE[end]]
                off.append(100 * math.dist((at["x"], at["y"]), (x - 0.5, y - 0.5)) / math.dist(points["shoulder"], points["hip"]))
        print(f"  {end:9} {100 * len(off) / len(frames):10.0f}% {share(off, 0.5):7.1f} {share(off, 0.9):8.1f} {aim or '':>8}")
    print(f"  upright: {found['upright']}")


def main():
    words = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    words.add_argument("program")
    words.add_argument("folder", type=pathlib.Path)
    words.add_argument("--anchors", type=int, default=3)
    words.add_argument("--read", action="store_true")
    said = words.parse_args()
    films = sorted(said.folder.glob("*.mp4"))
    if not films:
        sys.exit(f"{said.folder}: holds no clips (NAME.mp4 with NAME.json)")
    for film in films:
        clip = json.loads(film.with_suffix(".json").read_text())
        if said.read:
            read_by_itself(film.stem, said.program, film, clip)
        else:
            report(film.stem, clip, *followed(said.program, film, clip, said.anchors))


if __name__ == "__main__":
    main()
