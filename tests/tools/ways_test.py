"""The list of ways out, held against code that is not there."""
import pathlib
import subprocess
import sys
import tempfile
import unittest

HERE = pathlib.Path(__file__).resolve()
CHECK = HERE.parents[2] / "tools" / "lint" / "ways_check.py"
PAGE = """# Leaving
### Leaves a yard: asks, checks, logs
* `src/a.cpp` a page
### Of nobody
* `src/b.cpp` a drawing
"""


class Ways(unittest.TestCase):
    def check(self, files, page=PAGE):
        with tempfile.TemporaryDirectory() as root:
            (pathlib.Path(root) / "docs/decisions").mkdir(parents=True)
            (pathlib.Path(root) / "src").mkdir()
            (pathlib.Path(root) / "docs/decisions/leaving.md").write_text(page)
            for name, code in files.items():
                (pathlib.Path(root) / "src" / name).write_text(code)
            done = subprocess.run([sys.executable, str(CHECK), root], capture_output=True, text=True)
            return done.returncode, done.stdout

    GOOD = {"a.cpp": "leave(yard, permit, left, write);", "b.cpp": "QSaveFile out(file);"}

    def test_all_listed(self):
        self.assertEqual(self.check(self.GOOD)[0], 0)

    def test_a_new_way_is_not_forgotten(self):
        for code in ("std::ofstream out(file);", "QGuiApplication::clipboard()->setText(words);", "QFile::copy(a, b);", "picture.save(&file);"):
            code_, said = self.check({**self.GOOD, "c.cpp": code})
            self.assertEqual(code_, 1, code)
            self.assertIn("src/c.cpp", said)

    def test_what_leaves_passes_the_gate(self):
        _, said = self.check({**self.GOOD, "a.cpp": "QSaveFile out(file);"})
        self.assertIn("does not pass the gate", said)

    def test_what_is_listed_is_there(self):
        self.assertIn("writes nothing", self.check({"a.cpp": self.GOOD["a.cpp"]})[1])


class TheProgram(unittest.TestCase):
    def test_every_way_out_is_on_the_list(self):
        done = subprocess.run([sys.executable, str(CHECK), str(HERE.parents[2])], capture_output=True, text=True)
        self.assertEqual(done.returncode, 0, done.stdout)


if __name__ == "__main__":
    unittest.main()
