"""Fails where the code is not formatted as .clang-format says. Changes nothing: ./aspen format does."""
import pathlib
import subprocess
import sys

ROOT = pathlib.Path(sys.argv[1])
files = sorted(str(p) for folder in ("src", "tests") for p in (ROOT / folder).rglob("*.[ch]pp"))
done = subprocess.run(["clang-format", "--dry-run", "--Werror", f"--style=file:{ROOT / '.clang-format'}", *files],
                      capture_output=True, text=True)
wrong = sorted({line.split(":")[0] for line in done.stderr.splitlines() if "error:" in line})
print("\n".join(wrong) or f"{len(files)} files are formatted")
sys.exit(bool(wrong) or done.returncode != 0 or len(files) < 100)
