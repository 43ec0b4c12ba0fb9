#!/usr/bin/env python3
"""Makes files that a stranger might hand over, and says what must be said of each.

make_hostile.py FOLDER PORT   PORT: of a server on this machine that must never be asked.
FOLDER/said.json: [{"name", "arguments", "exit", "says"}]; {file} and {yard} stand for paths, `says` is a regular
expression for the one line on standard error, "" where it must be empty.
"""
import hashlib, io, json, os, pathlib, struct, subprocess, sys, zipfile, zlib

FOLDER, PORT = pathlib.Path(sys.argv[1]), sys.argv[2]
HERE = f"http://127.0.0.1:{PORT}"
NO_CLIP = "not a video that can be read"
said = []


def put(name, data, arguments, exit_code, says):
    (FOLDER / name).write_bytes(data.encode() if isinstance(data, str) else data)
    expect(name, arguments, exit_code, says)


def expect(name, arguments, exit_code, says):
    said.append({"name": name, "arguments": arguments, "exit": exit_code, "says": says})


FRAMES = ["frames", "{file}"]


def film():
    out = FOLDER / "plain.mp4"
    subprocess.run(["ffmpeg", "-v", "error", "-y", "-f", "lavfi", "-i", "testsrc2=size=64x48:rate=10:duration=1", "-c:v", "libx264",
                    "-preset", "ultrafast", str(out)], check=True)
    return out.read_bytes()


def segment(url):
    return (f'<?xml version="1.0"?><MPD xmlns="urn:mpeg:dash:schema:mpd:2011" type="static" mediaPresentationDuration="PT2S" '
            f'profiles="urn:mpeg:dash:profile:isoff-main:2011"><Period><AdaptationSet mimeType="video/mp4"><Representation id="1" '
            f'bandwidth="1000" width="64" height="48"><BaseURL>{url}</BaseURL><SegmentList duration="2"><Initialization sourceURL="{url}"/>'
            f'<SegmentURL media="{url}"/></SegmentList></Representation></AdaptationSet></Period></MPD>')


def png(width, height, rows):
    def chunk(kind, body):
        return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))
    return (b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0)) +
            chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b""))


def turned_photograph(orientation):
    """A JPEG whose left half is red, with the Exif tag that says how the camera was held."""
    plain = subprocess.run(["ffmpeg", "-v", "error", "-f", "lavfi", "-i", "color=red:size=32x48,pad=64:48:0:0:blue", "-frames:v", "1",
                            "-f", "mjpeg", "-"], check=True, capture_output=True).stdout
    tiff = b"MM\0*\0\0\0\x08" + struct.pack(">HHHIHHI", 1, 0x0112, 3, 1, orientation, 0, 0)
    body = b"Exif\0\0" + tiff
    return plain[:2] + b"\xff\xe1" + struct.pack(">H", len(body) + 2) + body + plain[2:]


def clips():
    plain = film()
    for name in ("dash.mp4", "dash.mpd"):
        put(name, segment(f"{HERE}/film.mp4"), FRAMES, 3, NO_CLIP)
    put("dash_of_a_file.mp4", segment(f"file://{FOLDER}/plain.mp4"), FRAMES, 3, NO_CLIP)
    put("concat.mp4", f"ffconcat version 1.0\nfile {FOLDER}/plain.mp4\n", FRAMES, 3, NO_CLIP)
    put("hls.mp4", f"#EXTM3U\n#EXT-X-TARGETDURATION:2\n#EXTINF:2,\n{HERE}/film.ts\n#EXT-X-ENDLIST\n", FRAMES, 3, NO_CLIP)
    put("hls.m3u8", f"#EXTM3U\n#EXT-X-TARGETDURATION:2\n#EXTINF:2,\nfile://{FOLDER}/plain.mp4\n#EXT-X-ENDLIST\n", FRAMES, 3, NO_CLIP)
    put("session.mp4", f"v=0\r\no=- 0 0 IN IP4 127.0.0.1\r\ns=x\r\nc=IN IP4 127.0.0.1\r\nt=0 0\r\nm=video {PORT} RTP/AVP 96\r\n"
        "a=rtpmap:96 H264/90000\r\n", FRAMES, 3, NO_CLIP)
    bomb = "".join(f'<g id="a{i}">' + f'<use href="#a{i - 1}"/>' * 12 + "</g>" for i in range(1, 12))
    svg = f'<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" width="20000" height="20000"><g id="a0"><rect width="1" height="1"/></g>{bomb}</svg>'
    for name in ("bomb.svg", "bomb.mp4", "bomb.png"):
        put(name, svg, FRAMES, 3, NO_CLIP)
    put("reference.mp4", f'<smil><body><video src="{HERE}/film.mp4"/></body></smil>', FRAMES, 3, NO_CLIP)
    put("names%03d.jpg", "%03d", FRAMES, 3, NO_CLIP)
    put("words.mp4", "No film at all, but many words. " * 400, FRAMES, 3, NO_CLIP)
    put("subtitles.mp4", "1\n00:00:00,000 --> 00:00:02,000\nWords\n\n" * 200, FRAMES, 3, NO_CLIP)
    put("archive.mp4", archive({"a.txt": b"a"}), FRAMES, 3, NO_CLIP)
    put("program.mp4", pathlib.Path("/bin/true").read_bytes(), FRAMES, 3, NO_CLIP)
    put("noise.mp4", hashlib.shake_256(b"noise").digest(1 << 18), FRAMES, 3, ".*")
    put("empty.mp4", b"", FRAMES, 3, "the file is empty")
    put("head_only.mp4", plain[:40], FRAMES, 3, ".*")
    put("huge.png", png(60000, 60000, b"\0" * 100), FRAMES, 3, "larger than|not a video|format is not known|cannot be (read|decoded)")
    put("lying.mp4", plain.replace(b"avc1", b"zzz1"), FRAMES, 3, "picture format is not known|not a video|streams cannot be read")
    put("film.txt", plain, FRAMES, 0, "")  # told by its content, whatever its name
    put("film.svg", plain, FRAMES, 0, "")
    put("film #1 %41?.mp4", plain, FRAMES, 0, "")
    put("upright.jpg", turned_photograph(6), FRAMES, 0, "")
    os.mkfifo(FOLDER / "pipe.mp4")
    expect("pipe.mp4", FRAMES, 3, "is no file; choose a clip")
    (FOLDER / "zero.mp4").symlink_to("/dev/zero")
    expect("zero.mp4", FRAMES, 3, "is no file; choose a clip")
    (FOLDER / "folder.mp4").mkdir()
    expect("folder.mp4", FRAMES, 3, "is a folder; choose a clip in it")
    expect("nowhere.mp4", FRAMES, 3, "no such file")


def tables():
    measure, events, motion = ["measure", "{file}"], ["events", "{file}"], ["motion", "{file}", "--gait", "trot", "--travel", "right"]
    log = ["import", "{yard}", "{file}", "--rider", "Maude Estrell"]
    put("deep.json", "[" * 2_000_000, measure, 3, "nested more than 32 deep")
    put("deep_object.json", '{"a":' * 500_000, measure, 3, "nested more than 32 deep")
    put("wide.json", "[" + "[]," * 2_000_000 + "[]]", measure, 3, "holds more than can be read at once")
    put("texts.json", "[" + '"",' * 3_000_000 + '""]', measure, 3, "holds more than can be read at once")
    put("keys.json", "{" + ",".join(f'"{i}":1' for i in range(1_500_000)) + "}", measure, 3, "holds more than can be read at once")
    put("numbers.json", '{"images":[{"id":1e999}]}', measure, 3, ".*")
    put("bytes.json", b'{"a":"\xff\xfe"}', measure, 3, ".*")
    put("cut.json", '{"images":[', measure, 3, "not valid JSON near byte")
    for name, arguments, what in (("line.csv", events, "has a line of more than 64 KB"), ("tracks.csv", motion, "has a line of more than 64 KB"),
                                  ("log.csv", log, "has a line of more than 64 KB"), ("large.json", measure, "larger than 64 MB")):
        with open(FOLDER / name, "wb") as out:  # 200 MB without an end of line, taking no room
            out.truncate(200 << 20)
        expect(name, arguments, 3, what)
    put("binary.csv", hashlib.shake_256(b"table").digest(4096), events, 3, ".*")


def archive(files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as zip_file:
        for name, data in files.items():
            zip_file.writestr(name, data)
    return out.getvalue()


def bundle(files, bytes_said=None):
    named = [{"name": n, "bytes": (bytes_said or {}).get(n, len(d)), "sha256": hashlib.sha256(d).hexdigest()} for n, d in files.items()]
    manifest = {"format": "aspen-crest-bundle", "version": 1, "kind": "ride", "sender": "A stranger", "made_at": "2026-11-20T10:00:00", "files": named}
    return archive({"manifest.json": json.dumps(manifest).encode()} | files)


def bundles():
    take = ["import", "{yard}", "{file}"]
    plain = (FOLDER / "plain.mp4").read_bytes()

    def ride(media="media/a.mp4", **more):
        clip = {"media": media, "name": "a.mp4", "recorded_at": "2026-11-20", "duration_s": 1, "frames": 10, "stretches": []}
        return json.dumps({"day": "2026-11-20", "rider": {"name": "Pell Marrow", "birth_year": 1970}, "clips": [clip]} | more).encode()
    put("said.zip", bundle({"ride-1.json": ride(), "ride-1.said.json": b"[" * 2_000_000, "media/a.mp4": plain}), take, 3, "nested more than 32 deep")
    put("facts.zip", bundle({"ride-1.json": b'{"clips":' * 400_000, "media/a.mp4": plain}), take, 3, "nested more than 32 deep")
    put("no_film.zip", bundle({"ride-1.json": ride(), "media/a.mp4": segment(HERE).encode()}), take, 3, NO_CLIP)
    put("drawing.zip", bundle({"ride-1.json": ride("media/a.svg"), "media/a.svg": (FOLDER / "bomb.svg").read_bytes()}), take, 3, NO_CLIP)
    put("room.zip", bundle({"ride-1.json": ride(), "media/a.mp4": plain}, {"media/a.mp4": 15 << 30}), take, 3, "MB are free|is not what its manifest says")
    put("outside.zip", bundle({"ride-1.json": ride(), "../a.mp4": plain}), take, 3, "would lie outside it")
    put("no_zip.zip", b"PK\x03\x04" + b"\0" * 5000, take, 3, ".*")
    put("name.zip", bundle({"ride-1.json": ride(rider={"name": "../../../tmp/x", "birth_year": 1970}), "media/a.mp4": plain}), take, 0, "")


FOLDER.mkdir(parents=True, exist_ok=True)
clips()
tables()
bundles()
(FOLDER / "said.json").write_text(json.dumps(said, indent=1))
