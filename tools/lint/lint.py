#!/usr/bin/python3
"""Looks at the code without building it: ./aspen lint [--all]

By default what changed against main (committed, in the work tree, or not known to git yet); with --all everything, as
every change has to pass. Each check is a program of its own beside this one, called with the project's folder and, where it
goes file by file, the files to look at. One line a check: what it looked at, or what is wrong and where.
"""
import os
import pathlib
import resource
import subprocess
import sys
import time
from concurrent.futures import ThreadPoolExecutor

ROOT = pathlib.Path(__file__).resolve().parents[2]
HERE = ROOT / "tools" / "lint"
WHOLE = ["include", "names", "packages", "schema", "strings", "ways"]  # quick, and of all files together
BY_FILE = ["format", "tidy"]


def git(*words):
    done = subprocess.run(["git", "-C", str(ROOT), *words], capture_output=True, text=True)
    return done.stdout.split() if done.returncode == 0 else []


def changed():
    """C++ files that differ from where main was left; on main itself from what was fetched last, else from HEAD."""
    branch = (git("rev-parse", "--abbrev-ref", "HEAD") or ["HEAD"])[0]
    against = "main" if branch != "main" and git("rev-parse", "--verify", "main") else "origin/main"
    base = (git("merge-base", "HEAD", against) or ["HEAD"])[0]
    names = set(git("diff", "--name-only", "--diff-filter=d", base)) | set(git("ls-files", "--others", "--exclude-standard"))
    return sorted(n for n in names if n.endswith((".cpp", ".hpp")) and n.startswith(("src/", "tests/")))


def run(check, files):
    begun = time.monotonic()
    done = subprocess.run([sys.executable, str(HERE / f"{check}_check.py"), str(ROOT), *files], capture_output=True, text=True)
    said = (done.stdout + done.stderr).strip()
    return check, done.returncode, said, time.monotonic() - begun


def main(words):
    if words not in ([], ["--all"]):
        print(__doc__.strip(), file=sys.stderr)
        return 2
    files = [] if words else changed()
    checks = WHOLE + (BY_FILE if words or files else [])
    if not words:
        print(f"{len(files)} C++ files changed against main" if files else "No C++ file changed against main")
    wrong = []
    with ThreadPoolExecutor(max(1, (os.cpu_count() or 2) // 2)) as pool:  # tidy takes the other half by itself
        for check, code, said, took in pool.map(lambda c: run(c, files if c in BY_FILE else []), checks):
            print(f"{check:9} {said}" if code == 0 else f"{check:9} FAILED\n{said}", f" ({took:.0f} s)", flush=True)
            if code:
                wrong.append(check)
    used = resource.getrusage(resource.RUSAGE_CHILDREN)
    print(f"{used.ru_utime + used.ru_stime:.0f} s of CPU" + (f"; failed: {', '.join(wrong)}" if wrong else "; all is well"))
    return 1 if wrong else 0


sys.exit(main(sys.argv[1:]))
