"""Fails where code is not formatted as .clang-format says. Changes nothing: ./aspen format does.

    format_check.py ROOT [FILE ...]   without files: all of src and tests"""
import pathlib
import subprocess
import sys

ROOT = pathlib.Path(sys.argv[1])
everything = len(sys.argv) == 2
files = sys.argv[2:] or sorted(str(p.relative_to(ROOT)) for folder in ("src", "tests") for p in (ROOT / folder).rglob("*.[ch]pp"))
done = subprocess.run(["clang-format", "--dry-run", "--Werror", "--style=file", *files], capture_output=True, text=True, cwd=ROOT)
wrong = sorted({line.split(":")[0] for line in done.stderr.splitlines() if "error:" in line})
print("\n".join(wrong) or f"{len(files)} files are formatted")
sys.exit(bool(wrong) or done.returncode != 0 or (everything and len(files) < 100))
