"""Every place that writes is on the list of docs/decisions/leaving.md, and what is said to leave there passes the gate.

    ways_check.py ROOT"""
import pathlib
import re
import sys

ROOT = pathlib.Path(sys.argv[1]).resolve()
# Opens a file for writing, copies, renames, fills the clipboard, paints a document, or has one of the writers do it.
WRITES = re.compile(r"QSaveFile |std::ofstream |QFile::copy\(|QFile::rename\(|clipboard\(\)->set|VideoWriter \w|VideoWriter>\(|QPdfWriter \w|write_whole\("
                    r"|write_picture\(|write_png\(|write_page_pdf\(|write_page_html\(|copy_file\(|WriteOnly|filesystem::rename\(|SQLite::Backup|\.save\((?:&|file|to\b|name|folder)|write_a4\(|"
                    r"\b(?:leave|hand_over)\(\s*(?:\*?yard|bench|desk)")
PASSES = re.compile(r"\b(?:leave|hand_over)\(\s*(?:\*?yard|bench|desk)|QString leave\(")


def lists():
    """{heading: files} of the decision page."""
    out, heading = {}, ""
    for line in (ROOT / "docs/decisions/leaving.md").read_text().splitlines():
        if line.startswith("### "):
            heading = line[4:]
            out[heading] = []
        out.get(heading, []).extend(re.findall(r"`(src/[\w/.]+\.cpp)`", line))
    return out


def main():
    listed = lists()
    everything = [name for names in listed.values() for name in names]
    writing = set()
    for file in sorted((ROOT / "src").rglob("*.cpp")):
        code = re.sub(r"//.*", "", file.read_text())
        if WRITES.search(code):
            writing.add(file.relative_to(ROOT).as_posix())
    wrong = [f"{name}: writes, and is not on the list in docs/decisions/leaving.md" for name in sorted(writing - set(everything))]
    wrong += [f"{name}: is on the list in docs/decisions/leaving.md, and writes nothing" for name in sorted(set(everything) - writing)]
    wrong += [f"{name}: is on the list in docs/decisions/leaving.md twice" for name in sorted({n for n in everything if everything.count(n) > 1})]
    for name in listed.get("Leaves a yard: asks, checks, logs", []):
        if (ROOT / name).exists() and not PASSES.search((ROOT / name).read_text()):
            wrong.append(f"{name}: leaves, and does not pass the gate")
    if wrong:
        print("\n".join(wrong))
        return 1
    print(f"{len(everything)} places that write are on the list of ways out")
    return 0


sys.exit(main())
