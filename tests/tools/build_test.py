"""What `./aspen` says while it builds, with a stand-in for ninja that does nothing but tell."""
import contextlib
import importlib.util
import io
import os
import pathlib
import stat
import sys
import tempfile
import unittest
from unittest import mock

TOOL = pathlib.Path(__file__).resolve().parents[2] / "tools" / "build.py"
NINJA = """#!/bin/sh
case "$*" in
*-t\\ commands*) printf 'c++ -c Unity/unity_0_cxx.cxx\\nc++ -c a.cpp\\nar qc lib.a\\n'; exit 0;;
esac
echo "ninja: Entering directory"
echo "[1/3] Building CXX object src/CMakeFiles/aspen_ui.dir/Unity/unity_0_cxx.cxx.o"
echo "[2/3] Building CXX object src/CMakeFiles/aspen-crest.dir/ui/main.cpp.o"
%s
"""


def build(folder, tail="echo '[3/3] Linking CXX executable src/aspen-crest'"):
    """-> (what was said, the code it ended with)"""
    bin_folder = pathlib.Path(folder) / "bin"
    bin_folder.mkdir(exist_ok=True)
    ninja = bin_folder / "ninja"
    ninja.write_text(NINJA % tail)
    ninja.chmod(ninja.stat().st_mode | stat.S_IEXEC)
    said = io.StringIO()
    spec = importlib.util.spec_from_file_location("build_tool", TOOL)
    path = f"{bin_folder}{os.pathsep}{os.environ['PATH']}"
    with mock.patch.dict(os.environ, {"PATH": path}), mock.patch.object(sys, "argv", ["build.py", folder]), \
            contextlib.redirect_stdout(said):
        try:
            spec.loader.exec_module(importlib.util.module_from_spec(spec))
        except SystemExit as e:
            return said.getvalue(), e.code
    raise AssertionError("it ends with ninja's code")


class Build(unittest.TestCase):
    def setUp(self):
        self.folder = tempfile.TemporaryDirectory()
        self.addCleanup(self.folder.cleanup)

    def test_from_nothing_it_says_that_it_takes_minutes_and_when_it_is_done(self):
        said, code = build(self.folder.name)
        self.assertEqual(code, 0)
        self.assertIn("the first time takes minutes", said)
        self.assertIn("ui, part 1", said)
        self.assertIn("Built in", said)
        self.assertNotIn("Entering", said)

    def test_after_an_edit_it_is_quiet(self):
        (pathlib.Path(self.folder.name) / "some.o").touch()
        said, code = build(self.folder.name)
        self.assertEqual(code, 0)
        self.assertNotIn("takes minutes", said)

    def test_errors_are_passed_on_with_their_code(self):
        said, code = build(self.folder.name, "echo 'column.cpp:3: error: no such thing'; exit 1")
        self.assertEqual(code, 1)
        self.assertIn("column.cpp:3: error: no such thing", said)
        self.assertIn("Not built.", said)


if __name__ == "__main__":
    unittest.main()
