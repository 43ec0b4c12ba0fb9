"""Dependencies point down only: fails when a file includes a floor above its own, or a library its floor may not know,
and when two rooms (folders) know each other, directly or round a corner."""
import pathlib
import re
import sys

ROOT = pathlib.Path(sys.argv[1]) / "src"
MAY = {  # floor: floors it may include, outside headers it may not
    "core": ({"core"}, r"Q[A-Z]|Qt|opencv2|lib(av|sw)|sqlite3|SQLiteCpp|filesystem|fstream"),
    "media": ({"core", "media"}, r"Q[A-Z]|Qt|sqlite3|SQLiteCpp"),
    "sound": ({"core", "sound"}, r"QWidget|QtWidgets|opencv2|sqlite3|SQLiteCpp|lib(av|sw)"),
    "store": ({"core", "store"}, r"Q[A-Z]|Qt|opencv2|lib(av|sw)"),
    "exchange": ({"core", "store", "media", "exchange"}, r"QWidget|QtWidgets|QMessageBox|QDialog|QFileDialog|SQLiteCpp|lib(av|sw)"),
    "simulate": ({"core", "media", "simulate"}, r"QWidget|QtWidgets|QMessageBox|QDialog|sqlite3|SQLiteCpp|lib(av|sw)"),
    "app": ({"core", "media", "sound", "store", "exchange", "simulate", "app"}, r"QWidget|QtWidgets|QMessageBox|QDialog|QFileDialog|SQLiteCpp|lib(av|sw)"),
    "ui": ({"core", "media", "sound", "store", "exchange", "simulate", "app", "ui"}, r"SQLiteCpp|lib(av|sw)"),
    "painter": ({"core", "media", "store", "exchange", "app", "painter"}, r"QWidget|QtWidgets|QMessageBox|QDialog|QFileDialog|SQLiteCpp|lib(av|sw)"),
    "cli": ({"core", "media", "store", "exchange", "app", "cli"}, r"Q[A-Z]|SQLiteCpp|lib(av|sw)"),
}
# The simulator is a second opinion: of core it may know how a refusal is told, nothing that computes.
SIMULATE_CORE = {"core/reading/refused.hpp"}

wrong, seen = [], 0
rooms = {}  # room: {room it includes: where}
for path in sorted(ROOT.rglob("*.[ch]pp")):
    floor = path.relative_to(ROOT).parts[0]
    floors, forbidden = MAY[floor]
    seen += 1
    for number, line in enumerate(path.read_text().splitlines(), 1):
        if floor == "core" and re.search(r"_clock\b|\btime\(", line):  # <chrono>'s calendar is arithmetic, its clocks are not
            wrong.append(f"{path}:{number}: core must not ask a clock")
        match = re.match(r'\s*#\s*include\s*[<"]([^>"]+)[>"]', line)
        if not match:
            continue
        header = match.group(1)
        first = header.split("/")[0]
        room, known = path.parent.relative_to(ROOT), pathlib.PurePath(header).parent
        if first in MAY and "/" in header and known != room:
            rooms.setdefault(str(room), {}).setdefault(str(known), f"{path.relative_to(ROOT)}:{number}")
        if first in MAY and "/" in header and first not in floors:
            wrong.append(f"{path}:{number}: {floor} must not include {header}")
        if floor == "simulate" and first == "core" and header not in SIMULATE_CORE:
            wrong.append(f"{path}:{number}: the simulator must not share {header}")
        if re.match(rf"({forbidden})", header):
            wrong.append(f"{path}:{number}: {floor} must not know {header}")


def way(start, end):
    """The rooms from one to another, both ends included; empty where there is none."""
    before, waiting = {start: None}, [start]
    while waiting:
        here = waiting.pop(0)
        for there in sorted(rooms.get(here, {})):
            if there == end:
                out = [there, here]
                while before[out[-1]]:
                    out.append(before[out[-1]])
                return out[::-1]
            if there not in before:
                before[there] = here
                waiting.append(there)
    return []


told = set()
for room in sorted(rooms):
    ring = way(room, room)
    if ring and frozenset(ring) not in told:
        told.add(frozenset(ring))
        wrong.append("a circle of rooms: " + " > ".join(ring) + f" ({rooms[ring[0]][ring[1]]})")
print("\n".join(wrong) or f"{seen} files keep to their floors, {len(rooms)} rooms without a circle")
sys.exit(bool(wrong) or seen < 40)
