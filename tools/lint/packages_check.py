"""Every program and -dev package that building, testing, looking and measuring name stands in one of the lists of packages,
once and in a line of its own."""
import pathlib
import re
import sys

root = pathlib.Path(sys.argv[1])
lists = sorted(root.glob("packages*.txt"))
lines = [l.split("#")[0].strip() for f in lists for l in f.read_text().splitlines()]
listed = [l for l in lines if l]
wrong = [f"packages*.txt: {p} stands twice" for p in sorted({p for p in listed if listed.count(p) > 1})]
wrong += [f"packages*.txt: \"{p}\" is no package name" for p in listed if not re.fullmatch(r"[a-z0-9][a-z0-9+.-]+", p)]
needs = {  # what the build asks for: the package that has it
    "Qt6": "qt6-base-dev", "Svg": "qt6-svg-dev", "Eigen3": "libeigen3-dev", "nlohmann_json": "nlohmann-json3-dev", "fmt": "libfmt-dev",
    "SQLiteCpp": "libsqlitecpp-dev", "SQLite3": "libsqlite3-dev", "GTest": "libgtest-dev", "gmock": "libgmock-dev", "libavformat": "libavformat-dev", "libavcodec": "libavcodec-dev",
    "libavutil": "libavutil-dev", "libswscale": "libswscale-dev", "libswresample": "libswresample-dev", "libavfilter": "libavfilter-dev", "Multimedia": "qt6-multimedia-dev", "Python3": "python3", "xvfb-run": "xvfb", "lato": "fonts-lato", "vollkorn": "fonts-vollkorn",
    "opencv2/dnn.hpp": "libopencv-dnn-dev", "LibArchive": "libarchive-dev", "tidy -": "tidy", "CLI11": "libcli11-dev", "lupdate": "qt6-l10n-tools", "benchmark": "libbenchmark-dev", "ffmpeg": "ffmpeg", "pdftotext": "poppler-utils", "opencv-doc": "opencv-doc", "libical": "libical-dev", "icalendar": "python3-icalendar", "jsonschema": "python3-jsonschema", "mold": "mold", "ctags": "universal-ctags", "clang-tidy": "clang-tidy", "clang-format": "clang-format",
}
text = "\n".join(p.read_text() for p in [*root.rglob("CMakeLists.txt"), *root.glob("cmake/*.cmake"), *root.glob("tests/**/*.cpp"), *root.glob("tools/**/*.py")] if "build" not in p.relative_to(root).parts[:1])
for word, package in needs.items():
    if word in text and package not in listed:
        wrong.append(f"packages*.txt: {package} is missing ({word} is used)")
print("\n".join(wrong) or f"{len(listed)} packages")
sys.exit(bool(wrong))
