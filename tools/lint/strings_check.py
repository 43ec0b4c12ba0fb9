"""Every string a person reads stands in tr(), and Qt's extraction finds it: what a translator would get is complete.

A literal counts as read by a person when it holds two words. Not translated are refusals of the floors below the
window (std::string, see docs/decisions/words.md), the demo's own names, styles, formats, keys and file names."""
import pathlib
import re
import subprocess
import sys
import tempfile
import xml.etree.ElementTree as xml

root = pathlib.Path(sys.argv[1])
LEFT_ALONE = {"tools/shots/shots.cpp", "src/app/files/data_files.cpp", "src/app/files/one_line.cpp", "src/app/demo/demo_yard.cpp",
              "src/app/demo/demo_reviews.cpp", "src/ui/shared/theme.cpp", "src/ui/shared/view_keys.cpp"}
LITERAL = r'"(?:\\.|[^"\\\n])*"'
TOKEN = re.compile(r'//[^\n]*|/\*.*?\*/|#\s*include[^\n]*|R"\((?:.|\n)*?\)"|\'(?:\\.|[^\'\\\n])\'|'
                   rf'{LITERAL}(?:\s*{LITERAL})*', re.S)
WRAPPED = re.compile(r'\b(?:tr|QT_TRANSLATE_NOOP)\(\s*(?:"\w+",\s*)?$')
# What stands before a literal that nobody reads.
NOT_READ = re.compile(r'(?:Refused\(\(*|Refused\([^;]*\+\s*|printf\([^;]*|setStyleSheet\([^;]*|QString\(|toString\([^;]*|'
                      r'QRegularExpression [a-z_]*\(|std::string\([^;]*|what = |return std::string|Q_ASSERT_X[^;]*|"source", |\),\s*)\s*$')
STYLE = re.compile(r'font-|px|<[a-z/]+|^d M|href|%1[^a-zA-Z]*%2[^a-zA-Z]*(?:%3)?$')


def literals(text):
    """(position, words) of every run of neighbouring string literals outside comments."""
    for m in TOKEN.finditer(text):
        if m.group().startswith('"'):
            parts = re.findall(LITERAL, m.group())
            yield m.start(), "".join(p[1:-1] for p in parts)


wrong, wrapped = [], set()
for file in sorted([*root.glob("src/ui/**/*.cpp"), *root.glob("src/app/**/*.cpp")]):
    name = str(file.relative_to(root))
    if name in LEFT_ALONE:
        continue
    text = file.read_text()
    for at, words in literals(text):
        before = text[max(0, at - 200):at]
        if before.rstrip().endswith("QT_TRANSLATE_NOOP("):
            continue  # the context
        if WRAPPED.search(before):
            wrapped.add(words)
        elif re.search(r"[A-Za-z]{2,}[,;:.…]? +[A-Za-z]{2,}", words) and not NOT_READ.search(before) and not STYLE.search(words):
            wrong.append(f"{name}:{text.count(chr(10), 0, at) + 1}: \"{words}\" is read by a person; put it into tr()")

with tempfile.TemporaryDirectory() as folder:
    out = pathlib.Path(folder) / "words.ts"
    run = subprocess.run(["/usr/lib/qt6/bin/lupdate", "-silent", "-I", root / "src", "-locations", "none", root / "src/ui",
                          root / "src/app", "-ts", out], capture_output=True, text=True)
    if run.returncode != 0:
        wrong.append("lupdate: " + run.stderr)
    found = {s.text for s in xml.parse(out).iter("source")} if out.exists() else set()
plain = {w.encode().decode("unicode_escape").encode("latin-1", "ignore").decode("utf-8", "ignore") if "\\" in w else w for w in wrapped}
wrong += [f"lupdate does not find \"{w}\"" for w in sorted(plain - found)]
if len(wrapped) < 500:
    wrong.append(f"only {len(wrapped)} strings stand in tr(): this check no longer reads the sources")
print("\n".join(wrong) or f"{len(found)} strings for a translator")
sys.exit(bool(wrong))
