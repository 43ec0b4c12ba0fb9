#include "store/migration_steps.hpp"

/// The ground laid into a clip, and what was asked on it.
namespace aspen::store {

const char* const kSeventeenth = R"sql(
CREATE TABLE laid_arena(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL UNIQUE REFERENCES clip(id) ON DELETE CASCADE,
  length_m REAL NOT NULL CHECK(length_m > 0), width_m REAL NOT NULL CHECK(width_m > 0),
  places TEXT NOT NULL DEFAULT '', height_m REAL NOT NULL DEFAULT 0 CHECK(height_m >= 0),
  wide_deg REAL NOT NULL DEFAULT 0 CHECK(wide_deg >= 0)
) STRICT;
CREATE TABLE arena_mark(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
  slot INTEGER NOT NULL DEFAULT 0, frame INTEGER NOT NULL CHECK(frame >= 0),
  kind TEXT NOT NULL CHECK(kind IN ('place', 'length', 'horse')), name TEXT NOT NULL DEFAULT '',
  x1 REAL NOT NULL, y1 REAL NOT NULL, x2 REAL NOT NULL DEFAULT 0, y2 REAL NOT NULL DEFAULT 0,
  length_m REAL NOT NULL DEFAULT 0, sd_px REAL NOT NULL DEFAULT 2 CHECK(sd_px > 0)
) STRICT;
CREATE INDEX arena_mark_by_clip ON arena_mark(clip);
CREATE TABLE asked_line(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
  slot INTEGER NOT NULL DEFAULT 0, kind TEXT NOT NULL CHECK(kind <> ''),
  from_frame INTEGER NOT NULL CHECK(from_frame >= 0), to_frame INTEGER NOT NULL CHECK(to_frame >= from_frame),
  diameter_m REAL NOT NULL DEFAULT 0 CHECK(diameter_m >= 0), at TEXT NOT NULL DEFAULT '',
  until TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX asked_line_by_clip ON asked_line(clip);
)sql";

}  // namespace aspen::store
