#!/usr/bin/python3
"""Builds, and says how far it is and about how long it will take: for who waits in front of it.

    build.py BUILD_FOLDER [TARGET ...]

Runs ninja. What ninja or the compiler says of errors is passed on as it is."""
import pathlib
import re
import subprocess
import sys
import time

STEP = re.compile(r"\[(\d+)/(\d+)\] (.*)")


def weight(step):
    """How long a step takes beside others, about seconds of one core."""
    if "Building CXX" not in step and " -c " not in step:
        return 0.3
    return 40 if "Unity/unity_" in step else 6


def words(step):
    """ "core, part 2" for a compiled unit, else nothing a person waits for."""
    m = re.search(r"(?:aspen_|)([\w-]+)\.dir/(?:.*?unity_(\d+))?", step)
    if "Building CXX" not in step or not m:
        return "linking" if "Linking" in step else ""
    return m.group(1).replace("_", " ") + (f", part {int(m.group(2)) + 1}" if m.group(2) else "")


def spoken(seconds):
    return f"{seconds:.0f} s" if seconds < 90 else f"{seconds / 60:.0f} min"


def main(folder, targets):
    ninja = ["ninja", "-C", folder, *targets]
    # A dry run stops where the lists of files are looked at anew, so what is to come is known from nothing only; after an
    # edit the pieces are counted.
    fresh = not any(pathlib.Path(folder).rglob("*.o"))
    whole = 0
    if fresh:
        every = subprocess.run(["ninja", "-C", folder, "-t", "commands", *targets], capture_output=True, text=True)
        whole = sum(map(weight, every.stdout.splitlines()))
        print("Building Aspen Crest: the first time takes minutes, later ones seconds.", flush=True)
    alive, begun, told, done = sys.stdout.isatty(), time.monotonic(), 0.0, 0.0
    run = subprocess.Popen(ninja, stdout=subprocess.PIPE, text=True)
    for line in run.stdout:
        m = STEP.match(line)
        if m and ("Re-checking" in line or "Re-running" in line):
            continue
        if not m:
            if not line.startswith(("ninja: Entering", "ninja: no work")):
                print(("\n" if alive and done else "") + line, end="", flush=True)
            continue
        done += weight(m.group(3))
        now = time.monotonic()
        # In a log a line each quarter of a minute is enough.
        if not alive and now - told < 15:
            continue
        share = min(1.0, done / whole) if fresh else int(m.group(1)) / int(m.group(2))
        told, gone = now, now - begun
        left = f", about {spoken(gone / share - gone)} left" if fresh and gone > 20 and 0 < share < 0.99 else ""
        text = f"  {100 * share:3.0f} %{left}  {words(m.group(3))}"
        print(f"\r{text:<72}" if alive else text, end="" if alive else "\n", flush=True)
    run.stdout.close()
    code = run.wait()
    if fresh or code:
        print(("\n" if alive and done else "") + (f"Built in {spoken(time.monotonic() - begun)}." if code == 0 else "Not built."), flush=True)
    elif alive and done:
        print()
    return code


sys.exit(main(sys.argv[1], sys.argv[2:]))
