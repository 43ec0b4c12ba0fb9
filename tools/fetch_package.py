"""Fetches one package of the npm registry, and says how far it is. What broke off is gone on with where it broke."""
import base64
import hashlib
import os
import subprocess
import sys
import time
import urllib.error
import urllib.request

TRIES = 4
WAIT_S = 20  # for an answer, and between two pieces


class NotFetched(Exception):
    """One line: why, and what to do."""


def sum_of(file):
    """A file's sum as npm writes it: "sha512-" and base64."""
    digest = hashlib.sha512()
    with open(file, "rb") as f:
        for block in iter(lambda: f.read(1 << 20), b""):
            digest.update(block)
    return "sha512-" + base64.b64encode(digest.digest()).decode()


def address_of(package):
    """Where the registry that npm is set up for has it. -> (address, bytes unpacked are not told)"""
    done = subprocess.run(["npm", "view", package, "dist.tarball", "--loglevel=error"], capture_output=True, text=True)
    address = done.stdout.strip()
    if done.returncode or not address.startswith("http"):
        told = [line for line in done.stderr.splitlines() if line.strip()]
        why = next((line for line in told if "reason" in line or "network" in line), (told or ["npm said nothing"])[0])
        raise NotFetched(f"{package} could not be found ({why.removeprefix('npm ERR! ').removeprefix('npm error ')}); check the network")
    return address


class Progress:
    """In a terminal one line that changes, in a log a line each tenth."""

    def __init__(self, name, whole):
        self.name, self.whole, self.told, self.alive = name, whole, -1, sys.stdout.isatty()

    def say(self, there):
        part = int((100 if self.alive else 10) * there / self.whole) if self.whole else there >> 20
        if part == self.told:
            return
        self.told = part
        text = f"  {self.name}: {there / 1e6:.0f} of {self.whole / 1e6:.0f} MB" if self.whole else f"  {self.name}: {there / 1e6:.0f} MB"
        print(f"\r{text}" if self.alive else text, end="" if self.alive else "\n", flush=True)

    def end(self):
        if self.alive and self.told >= 0:
            print(flush=True)


def go_on(address, part, name):
    """Reads on from where `part` ends. -> True when all is there"""
    there = os.path.getsize(part) if os.path.exists(part) else 0
    request = urllib.request.Request(address, headers={"Range": f"bytes={there}-"} if there else {})
    try:
        answer = urllib.request.urlopen(request, timeout=WAIT_S)
    except urllib.error.HTTPError as e:
        if e.code == 416:  # nothing lies past what is there
            return True
        raise
    with answer:
        if there and answer.status != 206:
            there = 0  # this registry begins anew
        length = answer.headers.get("Content-Length")
        progress = Progress(name, there + int(length) if length else 0)
        if there:
            print(f"  going on at {there / 1e6:.0f} MB", flush=True)
        with open(part, "ab" if there else "wb") as f:
            while block := answer.read(1 << 18):
                f.write(block)
                there += len(block)
                progress.say(there)
        progress.end()
        return not length or there >= progress.whole


def fetch(package, expected, file):
    """Puts the package's file at `file`; `expected` is its sum as npm writes it. Raises NotFetched; what came of it stays
    beside it as FILE.part."""
    part = file + ".part"
    address = address_of(package)
    why = ""
    for attempt in range(TRIES):
        try:
            if go_on(address, part, package):
                break
            why = "the connection ended early"
        except (OSError, urllib.error.URLError) as e:
            why = str(getattr(e, "reason", e))
        if attempt + 1 < TRIES:
            print(f"  broken off ({why}); trying again", flush=True)
            time.sleep(2 ** attempt)
    else:
        raise NotFetched(f"{package} could not be fetched ({why}); check the network; what came so far is kept and gone on with")
    if sum_of(part) != expected:
        os.remove(part)
        raise NotFetched(f"{package}: what came is not what was asked for (wrong sum); nothing was kept, try again")
    os.replace(part, file)
