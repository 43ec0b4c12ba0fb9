"""A small clang-tidy set over the computation and the records: only checks that find bugs, each finding fails."""
import json
import os
import pathlib
import re
import subprocess
import sys
from concurrent.futures import ThreadPoolExecutor

ROOT, BUILD = pathlib.Path(sys.argv[1]), pathlib.Path(sys.argv[2])
CHECKS = ("-*,bugprone-use-after-move,bugprone-dangling-handle,bugprone-infinite-loop,bugprone-integer-division,"
          "bugprone-sizeof-expression,bugprone-string-constructor,bugprone-suspicious-*,bugprone-undefined-memory-manipulation,"
          "bugprone-unused-return-value,bugprone-incorrect-roundings,bugprone-misplaced-*,bugprone-copy-constructor-init,"
          "performance-for-range-copy,performance-unnecessary-copy-initialization,performance-inefficient-string-concatenation,"
          "performance-move-const-arg,readability-misleading-indentation,modernize-use-override,"
          "-bugprone-suspicious-include")
# clang cannot read GCC's precompiled headers, and does not know some of GCC's flags.
DROP = re.compile(r"-include \S+cmake_pch\.hxx|-Winvalid-pch|-fpch-preprocess|-W\S+")

work = BUILD / "tidy"
work.mkdir(exist_ok=True)
commands, files = [], []
for entry in json.loads((BUILD / "compile_commands.json").read_text()):
    path = pathlib.Path(entry["file"])
    if path.suffix == ".cpp" and any(path.is_relative_to(ROOT / "src" / floor) for floor in ("core", "store")):
        entry["command"] = DROP.sub("", entry["command"]).replace("/usr/bin/ccache ", "")
        commands.append(entry)
        files.append(str(path))
(work / "compile_commands.json").write_text(json.dumps(commands))


def look(path):
    out = subprocess.run(["clang-tidy", "-p", str(work), f"--checks={CHECKS}", "--quiet", "--warnings-as-errors=*",
                          "--header-filter=src/(core|store)/", path], capture_output=True, text=True)
    return path, out.returncode, [l for l in out.stdout.splitlines() if "error:" in l or "warning:" in l]


with ThreadPoolExecutor(os.cpu_count()) as pool:
    found = [(p, code, lines) for p, code, lines in pool.map(look, files) if code != 0]
for path, code, lines in found:
    print("\n".join(lines) or f"{path}: clang-tidy ended with {code}")
print(f"{len(files)} files looked at, {len(found)} with findings")
sys.exit(bool(found) or len(files) < 30)
