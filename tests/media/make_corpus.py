#!/usr/bin/env python3
"""Makes the corpus of clips on which frame numbers go wrong, and what the ffmpeg and ffprobe programs say of each.

make_corpus.py FOLDER   The clips are made once; a changed recipe is made again. Beside each clip NAME stands
NAME.ref.json: {"md5": [...], "pts": [...]}, from `ffmpeg -noautorotate -copyts -map 0:v:K -fps_mode passthrough -f framemd5`
and `ffprobe -show_frames`; list.json names all clips with the frame counts that were asked for.
"""
import hashlib, json, pathlib, struct, subprocess, sys

SRC = "-f lavfi -i testsrc2=size=256x144:rate=30:duration=4"
X = "-c:v libx264 -preset ultrafast"
# name: (frames, ffmpeg's words after the input, options: source, made from another clip, stream K)
RECIPES = {
    "long_groups.mp4": (120, f"{X} -bf 3 -g 250", {}),
    "short_groups.mp4": (120, f"{X} -bf 0 -g 12", {}),
    "open_groups.mp4": (120, f"{X} -bf 3 -g 20 -x264-params open-gop=1:keyint=20", {}),
    "pyramid.mp4": (120, f"-c:v libx264 -preset veryfast -bf 5 -g 60 -x264-params b-pyramid=normal:ref=4", {}),
    "no_b.mov": (120, f"{X} -bf 0 -g 15", {}),
    "refresh.mp4": (120, f"{X} -g 30 -x264-params intra-refresh=1:bframes=0", {}),
    "refresh.mkv": (120, f"{X} -g 24 -x264-params intra-refresh=1:bframes=2", {}),
    "one.mp4": (1, f"{X} -frames:v 1", {}),
    "starts_late.mp4": (120, f"{X} -bf 2 -output_ts_offset 5", {}),
    "fragments.mp4": (120, f"{X} -bf 2 -g 30 -movflags frag_keyframe+empty_moov", {}),
    "hybrid_fragments.mp4": (120, f"{X} -bf 2 -g 30 -movflags frag_keyframe", {}),
    "edit_list.mp4": (87, "-c copy", {"of": "long_groups.mp4", "seek": "1.1"}),
    "edit_list_open.mp4": (80, "-c copy", {"of": "open_groups.mp4", "seek": "1.27"}),
    "turned.mp4": (120, "-c copy", {"of": "long_groups.mp4", "before": "-display_rotation 90"}),
    "wide_pixels.mp4": (120, f"-vf setsar=4/3 {X} -bf 2", {}),
    "ten_bit.mp4": (120, f"-pix_fmt yuv420p10le {X} -bf 2", {}),
    "full_range.mp4": (120, f"-vf scale=out_range=full -color_range pc {X}", {}),
    "high_range.mp4": (30, "-frames:v 30 -pix_fmt yuv420p10le -c:v libx265 -preset ultrafast -x265-params log-level=none:colorprim=bt2020:transfer=arib-std-b67:colormatrix=bt2020nc", {}),
    "hevc.mp4": (120, "-c:v libx265 -preset ultrafast -x265-params log-level=none:keyint=40", {}),
    "hevc_cut.mkv": (None, "-c copy", {"of": "hevc.mp4", "seek": "1.5"}),
    "hevc.hevc": (120, "-c:v libx265 -preset ultrafast -x265-params log-level=none:keyint=40", {}),
    "interlaced.mp4": (120, f"-vf setfield=tff {X} -bf 2 -flags +ildct+ilme -x264-params tff=1", {}),
    "interlaced.ts": (120, "-vf setfield=bff -c:v mpeg2video -bf 2 -g 15 -flags +ildct+ilme", {}),
    "uneven_rate.mp4": (120, f"-vf setpts='(N/30+floor(N/10)*0.05)/TB' -fps_mode vfr {X} -bf 2 -video_track_timescale 90000", {}),
    "gap.mkv": (120, f"-vf setpts='(N/30+gte(N\\,60)*2)/TB' -fps_mode vfr {X} -bf 2", {}),
    "slow_motion.mp4": (120, f"{X} -bf 2 -movflags use_metadata_tags -metadata com.android.capture.fps=240", {}),
    "cover.mp4": (120, f"-map 0 -map 1 -c:v:0 libx264 -preset:v:0 ultrafast -c:v:1 png -frames:v:1 1 -disposition:v:1 attached_pic", {"source": SRC + " -f lavfi -i color=red:size=640x640:duration=0.04"}),
    "two_streams.mp4": (120, f"-map 0 -map 1 {X} -bf 2", {"source": "-f lavfi -i testsrc=size=128x72:rate=10:duration=4 " + SRC, "stream": 1}),
    "with_sound.mov": (120, f"{X} -bf 2 -c:a aac -shortest", {"source": SRC + " -f lavfi -i sine=frequency=440:duration=4"}),
    "no_cues.mkv": (120, f"{X} -bf 2 -g 30 -f matroska", {"pipe": True}),
    "cues.mkv": (120, f"{X} -bf 3 -g 250", {}),
    "intra.mkv": (120, "-c:v mjpeg", {}),
    "vp8.webm": (120, "-c:v libvpx -deadline realtime -auto-alt-ref 1 -lag-in-frames 16", {}),
    "vp9.webm": (60, "-frames:v 60 -c:v libvpx-vp9 -deadline realtime -cpu-used 8 -auto-alt-ref 1 -lag-in-frames 16", {}),
    "av1.mp4": (24, "-frames:v 24 -c:v libaom-av1 -cpu-used 8 -usage realtime -row-mt 1", {}),
    "theora.ogv": (120, "-c:v libtheora -q:v 5", {}),
    "h264.avi": (120, f"{X} -bf 2", {}),
    "mpeg4.avi": (120, "-c:v mpeg4 -bf 2", {}),
    "mpeg4.mp4": (120, "-c:v mpeg4 -bf 2 -g 50", {}),
    "packed.avi": (None, "", {"packed": True}),
    "lossless.avi": (30, "-frames:v 30 -c:v huffyuv", {}),
    "prores.mov": (30, "-frames:v 30 -c:v prores -profile:v 0", {}),
    "raw.h264": (120, f"{X} -bf 2", {}),
    "raw_groups.h264": (120, f"{X} -bf 3 -g 25 -x264-params open-gop=1", {}),
    "stream.ts": (120, f"{X} -bf 2 -g 30 -output_ts_offset 5", {}),
    "joined.ts": (240, "", {"join": "stream.ts"}),
    "mid_group.ts": (None, "", {"cut_head": "stream.ts"}),
    "tail_cut.ts": (None, "", {"cut_tail": "stream.ts"}),
    "stream.flv": (120, f"{X} -bf 2 -g 30", {}),
    "programme.mpg": (120, "-c:v mpeg1video -bf 2", {}),
    "windows.wmv": (120, "-c:v wmv2", {}),
    "moving.gif": (40, "-frames:v 40 -vf fps=10,scale=128:72", {}),
    "moving.apng": (30, "-frames:v 30 -plays 0", {}),
}


def run(words):
    done = subprocess.run(words, capture_output=True)
    if done.returncode != 0:
        raise SystemExit(f"{' '.join(words)}\n{done.stderr.decode(errors='replace')[-800:]}")
    return done.stdout


def packed_avi(out):
    """MPEG-4 with each B-picture packed behind its P-picture and a six-byte placeholder after it, as old encoders wrote."""
    raw = run(f"ffmpeg -v error {SRC} -frames:v 61 -c:v mpeg4 -bf 1 -b_strategy 0 -g 300 -f m4v -".split())
    cuts = [i for i in range(len(raw) - 4) if raw[i:i + 4] == b"\0\0\1\xb6"]
    head, pictures = raw[:cuts[0]], [raw[a:b] for a, b in zip(cuts, cuts[1:] + [len(raw)])]
    kind = [p[4] >> 6 for p in pictures]  # 0 I, 1 P, 2 B
    chunks, i = [], 0
    head += b"\0\0\1\xb2DivX503b1393p"
    while i < len(pictures):
        data = head + pictures[i] if i == 0 else pictures[i]
        if i + 1 < len(pictures) and kind[i + 1] == 2:
            chunks += [(data + pictures[i + 1], kind[i] == 0), (b"\0\0\1\xb6\x53\xff", False)]
            i += 2
        else:
            chunks.append((data, kind[i] == 0))
            i += 1
    def chunk(name, body): return name + struct.pack("<I", len(body)) + body + b"\0" * (len(body) % 2)
    def group(kind_, name, body): return chunk(kind_, name + body)
    strh = b"vidsXVID" + struct.pack("<IHHIIIIIIIIhhhh", 0, 0, 0, 0, 1, 30, 0, len(chunks), 100000, 0xFFFFFFFF, 0, 0, 0, 256, 144)
    strf = struct.pack("<IiiHH4sIiiII", 40, 256, 144, 1, 24, b"XVID", 256 * 144 * 3, 0, 0, 0, 0)
    avih = struct.pack("<14I", 33333, 100000, 0, 0x10, len(chunks), 0, 1, 100000, 256, 144, 0, 0, 0, 0)
    movi, index = b"", b""
    for data, key in chunks:
        index += b"00dc" + struct.pack("<III", 0x10 if key else 0, len(movi) + 4, len(data))
        movi += chunk(b"00dc", data)
    body = group(b"LIST", b"hdrl", chunk(b"avih", avih) + group(b"LIST", b"strl", chunk(b"strh", strh) + chunk(b"strf", strf)))
    body += group(b"LIST", b"movi", movi) + chunk(b"idx1", index)
    out.write_bytes(group(b"RIFF", b"AVI ", body))


def make(folder, name, words, extra):
    out = folder / name
    if extra.get("packed"):
        packed_avi(out)
    elif "join" in extra:
        out.write_bytes((folder / extra["join"]).read_bytes() * 2)
    elif "cut_head" in extra:
        data = (folder / extra["cut_head"]).read_bytes()
        out.write_bytes(data[len(data) // 3 // 188 * 188:])
    elif "cut_tail" in extra:
        data = (folder / extra["cut_tail"]).read_bytes()
        out.write_bytes(data[:len(data) * 2 // 3])
    else:
        source = extra.get("source", SRC)
        if "of" in extra:
            seek = f"-ss {extra['seek']} " if "seek" in extra else ""
            source = f"{extra.get('before', '')} {seek}-i {folder / extra['of']}" if "before" not in extra else f"{seek}-i {folder / extra['of']}"
            if "before" in extra:  # the display matrix is written by the muxer from the stream's old-style tag
                words += " -metadata:s:v:0 rotate=90"
        line = ["ffmpeg", "-v", "error", "-y", *source.split(), *words.replace("'", "").split()]
        if extra.get("pipe"):
            out.write_bytes(run(line + ["-"]))
        else:
            run(line + [str(out)])


def reference(clip, stream):
    lines = run(["ffmpeg", "-v", "quiet", "-noautorotate", "-copyts", "-i", str(clip), "-map", f"0:v:{stream}", "-fps_mode", "passthrough", "-f", "framemd5", "-"]).decode()
    md5 = [l.split(",")[-1].strip() for l in lines.splitlines() if l and not l.startswith("#")]
    frames = json.loads(run(["ffprobe", "-v", "quiet", "-select_streams", f"v:{stream}", "-show_entries", "frame=pts_time", "-of", "json", str(clip)]))["frames"]
    return {"md5": md5, "pts": [float(f["pts_time"]) if "pts_time" in f else None for f in frames]}


def main():
    folder = pathlib.Path(sys.argv[1])
    folder.mkdir(parents=True, exist_ok=True)
    listed = []
    for name, (frames, words, extra) in RECIPES.items():
        sign = hashlib.sha256(json.dumps([4, frames, words, extra, SRC]).encode()).hexdigest()
        known = folder / (name + ".ref.json")
        old = json.loads(known.read_text()) if known.exists() else {}
        if old.get("recipe") != sign or not (folder / name).exists():
            make(folder, name, words, extra)
            old = reference(folder / name, extra.get("stream", 0)) | {"recipe": sign}
            known.write_text(json.dumps(old))
        if not old["md5"] or (frames is not None and len(old["md5"]) != frames):
            raise SystemExit(f"{name}: {len(old['md5'])} frames, {frames} were asked for")
        listed.append({"name": name, "frames": len(old["md5"])})
    (folder / "list.json").write_text(json.dumps(listed))
    print(f"{len(listed)} clips, {sum(c['frames'] for c in listed)} frames in {folder}")


main()
