"""A small clang-tidy set over the computation and the records: only checks that find bugs, each finding fails.

    tidy_check.py ROOT [FILE ...]   without files: all of src/core and src/store

Files are read many at a time, as the build does: most of the work is the headers they share."""
import os
import pathlib
import subprocess
import sys
import tempfile
from concurrent.futures import ThreadPoolExecutor

ROOT = pathlib.Path(sys.argv[1]).resolve()
CHECKS = ("-*,bugprone-use-after-move,bugprone-dangling-handle,bugprone-infinite-loop,bugprone-integer-division,"
          "bugprone-sizeof-expression,bugprone-string-constructor,bugprone-suspicious-*,bugprone-undefined-memory-manipulation,"
          "bugprone-unused-return-value,bugprone-incorrect-roundings,bugprone-misplaced-*,bugprone-copy-constructor-init,"
          "performance-for-range-copy,performance-unnecessary-copy-initialization,performance-inefficient-string-concatenation,"
          "performance-move-const-arg,readability-misleading-indentation,modernize-use-override,"
          "-bugprone-suspicious-include")
FLAGS = ["-std=c++20", f"-I{ROOT / 'src'}", "-isystem", "/usr/include/eigen3", "-DFMT_SHARED", "-DNDEBUG"]
FLOORS = ("core", "store")
AT_A_TIME = 26


def floor_of(path):
    parts = path.relative_to(ROOT).parts
    return parts[1] if parts[0] == "src" and path.suffix == ".cpp" and parts[1] in FLOORS else None


asked = [ROOT / name for name in sys.argv[2:]] or sorted((ROOT / "src").rglob("*.cpp"))
units = []
for floor in FLOORS:
    files = [p for p in asked if floor_of(p) == floor]
    units += [files[i:i + AT_A_TIME] for i in range(0, len(files), AT_A_TIME)]


def look(files):
    with tempfile.NamedTemporaryFile("w", suffix=".cpp") as unit:
        unit.write("".join(f'#include "{p}"\n' for p in files))
        unit.flush()
        done = subprocess.run(["clang-tidy", f"--checks={CHECKS}", "--quiet", "--warnings-as-errors=*", "--header-filter=src/(core|store)/",
                               unit.name, "--", *FLAGS], capture_output=True, text=True)
    return done.returncode, [l for l in (done.stdout + done.stderr).splitlines() if "error:" in l or "warning:" in l]


with ThreadPoolExecutor(os.cpu_count()) as pool:
    found = [(code, lines) for code, lines in pool.map(look, units) if code != 0]
for code, lines in found:
    print("\n".join(lines) or f"clang-tidy ended with {code}")
looked = sum(len(u) for u in units)
print(f"{looked} files looked at for bugs")
sys.exit(bool(found) or (len(sys.argv) == 2 and looked < 30))
