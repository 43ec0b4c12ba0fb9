"""Names that belong to one file are unique within their floor, so that its files can be compiled together: fails where an
unnamed namespace holds a name that stands in another file's, or that a header of the floor has for a type or a value.

    names_check.py ROOT"""
import collections
import json
import pathlib
import re
import subprocess
import sys

ROOT = pathlib.Path(sys.argv[1]).resolve()
FLOORS = [f"src/{f}" for f in ("core", "media", "sound", "store", "exchange", "simulate", "app", "ui", "cli", "painter")]
FLOORS += [f"tests/{f}" for f in ("core", "media", "reference", "simulate", "store", "exchange", "app", "cli", "ui")]
# Programs of their own, which nothing is compiled together with.
ALONE = ("main.cpp", "ui_main.cpp", "step_writer.cpp", "store_writer.cpp")


def tags(files, kinds):
    """What universal-ctags finds: a dictionary each, with name, path, line, kind, scope, signature."""
    done = subprocess.run(["ctags", "--languages=C++", f"--kinds-C++={kinds}", "--fields=+nKsSt", "--extras=+{anonymous}", "--sort=no",
                           "--output-format=json", "-o", "-", *files], capture_output=True, text=True, cwd=ROOT, check=True)
    return [json.loads(line) for line in done.stdout.splitlines()]


def unnamed(tag):
    return tag.get("scopeKind") == "namespace" and re.search(r"__anon\w+$", tag.get("scope", "")) and not tag["name"].startswith("__anon")


wrong, seen = [], 0
for floor in FLOORS:
    files = sorted(str(p.relative_to(ROOT)) for p in (ROOT / floor).rglob("*.cpp") if p.name not in ALONE)
    own = collections.defaultdict(dict)  # name -> {file: its first tag}
    for tag in tags(files, "fvsugtec"):
        if unnamed(tag) and tag["name"] not in ("TEST", "TEST_F", "TEST_P"):
            own[tag["name"]].setdefault(tag["path"], tag)
            seen += 1
    headers = sorted(str(p.relative_to(ROOT)) for p in (ROOT / floor).rglob("*.hpp"))
    public = {t["name"]: t for t in tags(headers, "vsugtec") if t.get("scopeKind") == "namespace" and not unnamed(t)} if headers else {}
    for name, places in sorted(own.items()):
        # The same alias for the same thing may stand in several files; functions of unlike arguments are told apart.
        said = {(t["kind"], t.get("signature", ""), t.get("typeref", "")) if t["kind"] in ("function", "typedef") else i
                for i, t in enumerate(places.values())}
        kinds = {t["kind"] for t in places.values()}
        same = len(said) == 1 if kinds == {"typedef"} else len(said) == len(places) and kinds == {"function"}
        if len(places) > 1 and not same:
            wrong.append(f"{name}: stands in " + " and ".join(f"{p}:{t['line']}" for p, t in places.items()))
        if name in public and kinds != {"typedef"}:
            tag = next(iter(places.values()))
            wrong.append(f"{name}: stands in {tag['path']}:{tag['line']} and {public[name]['path']}:{public[name]['line']}")
print("\n".join(wrong) or f"{seen} names of single files, each once in its floor")
sys.exit(bool(wrong) or seen < 500)
