#include "store/migration_steps.hpp"

/// From following up on: how corrections go on, and what leaves.
namespace aspen::store {

// The coach's word on corrections, what may explain a change, promised clips, the outbox, drills for the eye.
const char* const kEleventh = R"sql(
CREATE TABLE correction_word(
  id INTEGER PRIMARY KEY, correction INTEGER NOT NULL REFERENCES correction(id),
  ride INTEGER REFERENCES ride(id), day TEXT NOT NULL,
  stage TEXT NOT NULL DEFAULT '' CHECK(stage IN ('', 'noticed', 'confirmed', 'in_work', 'holding', 'settled', 'back_again', 'overcorrected')),
  words TEXT NOT NULL DEFAULT '', CHECK(stage <> '' OR words <> '')
) STRICT;
CREATE INDEX correction_word_of ON correction_word(correction);
CREATE INDEX correction_word_by_ride ON correction_word(ride);
CREATE TABLE milestone(
  id INTEGER PRIMARY KEY, rider INTEGER REFERENCES rider(id), horse INTEGER REFERENCES horse(id), day TEXT NOT NULL,
  until TEXT NOT NULL DEFAULT '', kind TEXT NOT NULL CHECK(kind IN ('saddle', 'bit', 'horse', 'injury', 'pause', 'other')),
  words TEXT NOT NULL DEFAULT '', CHECK(rider IS NOT NULL OR horse IS NOT NULL)
) STRICT;
CREATE INDEX milestone_by_rider ON milestone(rider);
CREATE INDEX milestone_by_horse ON milestone(horse);
CREATE TABLE promise(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), horse INTEGER REFERENCES horse(id),
  correction INTEGER REFERENCES correction(id), asked_on TEXT NOT NULL, due_on TEXT NOT NULL,
  shots TEXT NOT NULL DEFAULT '', closed_on TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX promise_by_rider ON promise(rider);
CREATE INDEX promise_by_horse ON promise(horse);
CREATE INDEX promise_by_correction ON promise(correction);
CREATE TABLE outgoing(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id),
  kind TEXT NOT NULL CHECK(kind IN ('ask', 'message', 'page', 'clip', 'bundle')), made_at TEXT NOT NULL,
  due_on TEXT NOT NULL DEFAULT '', to_whom TEXT NOT NULL DEFAULT '', subject TEXT NOT NULL DEFAULT '',
  words TEXT NOT NULL DEFAULT '', file TEXT NOT NULL DEFAULT '',
  state TEXT NOT NULL CHECK(state IN ('waiting', 'written', 'withdrawn'))
) STRICT;
CREATE INDEX outgoing_by_rider ON outgoing(rider);
-- A lesson that is taken back goes row by row: places that went with it would be missing then.
CREATE TABLE lesson_place_new(
  id INTEGER PRIMARY KEY, lesson INTEGER NOT NULL REFERENCES lesson(id),
  ride INTEGER NOT NULL REFERENCES ride(id), turn INTEGER NOT NULL DEFAULT 0, absent INTEGER NOT NULL DEFAULT 0,
  variant TEXT NOT NULL DEFAULT '', looked TEXT NOT NULL DEFAULT '', ground TEXT NOT NULL DEFAULT '',
  said TEXT NOT NULL DEFAULT ''
) STRICT;
INSERT INTO lesson_place_new(id, lesson, ride, turn, absent, variant, looked, ground, said)
  SELECT id, lesson, ride, turn, absent, variant, looked, ground, said FROM lesson_place;
DROP TABLE lesson_place;
ALTER TABLE lesson_place_new RENAME TO lesson_place;
CREATE INDEX lesson_place_of ON lesson_place(lesson);
CREATE INDEX lesson_place_by_ride ON lesson_place(ride);
CREATE TABLE drill(
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, coach TEXT NOT NULL DEFAULT '', kind TEXT NOT NULL CHECK(kind <> ''),
  about TEXT NOT NULL DEFAULT '', source TEXT NOT NULL, clip INTEGER REFERENCES clip(id),
  frame INTEGER NOT NULL DEFAULT 0, said TEXT NOT NULL, truth TEXT NOT NULL, off REAL NOT NULL, seconds REAL NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX drill_by_clip ON drill(clip);
CREATE INDEX drill_by_kind ON drill(kind, at);
)sql";

// What was agreed to, what left, reviews that were spoken, faces the coach set, rides of other yards.
const char* const kTwelfth = R"sql(
CREATE TABLE consent(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id),
  use TEXT NOT NULL CHECK(use IN ('page', 'clip', 'teaching')), given_by TEXT NOT NULL CHECK(given_by <> ''),
  given_on TEXT NOT NULL, until TEXT NOT NULL DEFAULT '', face INTEGER NOT NULL DEFAULT 0,
  withdrawn_on TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX consent_by_rider ON consent(rider);
-- What was agreed to until now spoke of whatever leaves for the rider's own use, with the face covered.
INSERT INTO consent(rider, use, given_by, given_on, until)
  SELECT id, use, consent_by, consent_on, consent_until
  FROM rider, (SELECT 'page' AS use UNION ALL SELECT 'clip') WHERE consent_by <> '' ORDER BY rider.id, use DESC;
ALTER TABLE rider DROP COLUMN consent_by;
ALTER TABLE rider DROP COLUMN consent_on;
ALTER TABLE rider DROP COLUMN consent_until;
CREATE TABLE departure(
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, rider INTEGER NOT NULL REFERENCES rider(id),
  use TEXT NOT NULL CHECK(use IN ('page', 'clip', 'teaching')), what TEXT NOT NULL CHECK(what <> ''),
  about TEXT NOT NULL DEFAULT '', file TEXT NOT NULL DEFAULT '', sha256 TEXT NOT NULL DEFAULT '',
  faces TEXT NOT NULL CHECK(faces IN ('covered', 'bare', 'none'))
) STRICT;
CREATE INDEX departure_by_rider ON departure(rider, at);
CREATE TABLE spoken(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id), slot INTEGER NOT NULL DEFAULT 0,
  made_at TEXT NOT NULL, title TEXT NOT NULL DEFAULT '', timeline TEXT NOT NULL CHECK(timeline <> ''),
  sound TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX spoken_by_clip ON spoken(clip);
CREATE TABLE face_mark(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id), person INTEGER NOT NULL DEFAULT 0,
  frame INTEGER NOT NULL CHECK(frame >= 0), x REAL NOT NULL DEFAULT 0, y REAL NOT NULL DEFAULT 0,
  half_wide REAL NOT NULL DEFAULT 0 CHECK(half_wide >= 0), half_high REAL NOT NULL DEFAULT 0 CHECK(half_high >= 0),
  gone INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE UNIQUE INDEX face_mark_at ON face_mark(clip, person, frame);
CREATE TABLE parcel(
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, sender TEXT NOT NULL DEFAULT '', sha256 TEXT NOT NULL,
  ride INTEGER NOT NULL REFERENCES ride(id), words TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX parcel_by_ride ON parcel(ride);
CREATE INDEX parcel_by_sum ON parcel(sha256);
ALTER TABLE outgoing ADD COLUMN attached TEXT NOT NULL DEFAULT '';
ALTER TABLE outgoing ADD COLUMN others TEXT NOT NULL DEFAULT '';
)sql";

}  // namespace aspen::store
