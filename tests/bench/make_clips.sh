#!/usr/bin/env bash
# Makes the clips that compare_readers reads: people walking (Debian's opencv-doc), grainy as a phone films, in long and
# short groups, at 4K, and in HEVC. make_clips.sh FOLDER; what is there stays.
set -euo pipefail
mkdir -p "$1"
source=/usr/share/doc/opencv-doc/examples/data/vtest.avi

make() {  # name, seconds, size, rate, encoder's words
  [ -f "$1" ] || ffmpeg -v error -y -i "$source" -t "$2" -vf "scale=$3,noise=alls=4:allf=t,fps=$4" "${@:5}" "$1.part.mp4"
  [ -f "$1" ] || mv "$1.part.mp4" "$1"
}

make "$1/1080p30-groups-250.mp4" 30 1920:1080 30 -c:v libx264 -preset veryfast -b:v 16M -bf 3 -g 250 -sc_threshold 0
make "$1/1080p60-groups-30.mp4" 20 1920:1080 60 -c:v libx264 -preset veryfast -b:v 16M -bf 0 -g 30 -sc_threshold 0
make "$1/2160p30-groups-60.mp4" 12 3840:2160 30 -c:v libx264 -preset ultrafast -b:v 40M -bf 2 -g 60
make "$1/hevc-1080p30.mp4" 20 1920:1080 30 -c:v libx265 -preset ultrafast -b:v 10M -x265-params log-level=none:keyint=250
# Five minutes of 4K, for the memory it takes.
[ -f "$1/2160p30-five-minutes.mp4" ] || ffmpeg -v error -y -stream_loop 24 -i "$1/2160p30-groups-60.mp4" -c copy "$1/2160p30-five-minutes.mp4"
