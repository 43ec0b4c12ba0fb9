#include "store/database.hpp"
#include "store/migration_steps.hpp"

/// Every step from the first version on. A shipped step is never edited.
namespace aspen::store {
namespace {

constexpr const char* kFirst = R"sql(
CREATE TABLE rider(
  id INTEGER PRIMARY KEY, name TEXT NOT NULL CHECK(name <> ''), birth_year INTEGER,
  school TEXT NOT NULL DEFAULT '', level TEXT NOT NULL DEFAULT '', goal TEXT NOT NULL DEFAULT '',
  limitations TEXT NOT NULL DEFAULT '',
  consent_by TEXT NOT NULL DEFAULT '', consent_on TEXT NOT NULL DEFAULT '', consent_until TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE horse(
  id INTEGER PRIMARY KEY, name TEXT NOT NULL CHECK(name <> ''), height_cm INTEGER, note TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE TABLE clip(
  id INTEGER PRIMARY KEY, path TEXT NOT NULL, hash TEXT NOT NULL, bytes INTEGER NOT NULL,
  filmed_on TEXT NOT NULL DEFAULT '', added_on TEXT NOT NULL DEFAULT '',
  state TEXT NOT NULL DEFAULT 'fresh' CHECK(state IN ('fresh', 'started', 'done')),
  rider INTEGER REFERENCES rider(id), horse INTEGER REFERENCES horse(id),
  school TEXT NOT NULL DEFAULT '', gait TEXT NOT NULL DEFAULT '', seat TEXT NOT NULL DEFAULT '',
  view TEXT NOT NULL DEFAULT 'side', travel TEXT NOT NULL DEFAULT '',
  roll_deg REAL NOT NULL DEFAULT 0, roll_sd_deg REAL NOT NULL DEFAULT 1.5, roll_marked INTEGER NOT NULL DEFAULT 0,
  yaw_deg REAL NOT NULL DEFAULT 0, yaw_sd_deg REAL NOT NULL DEFAULT 7, yaw_marked INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX clip_by_hash ON clip(hash);
CREATE INDEX clip_by_rider ON clip(rider, filmed_on);
CREATE TABLE moment(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
  frame INTEGER NOT NULL CHECK(frame >= 0), time_s REAL NOT NULL, phase TEXT NOT NULL DEFAULT '',
  UNIQUE(clip, frame)
) STRICT;
CREATE TABLE mark(
  moment INTEGER NOT NULL REFERENCES moment(id) ON DELETE CASCADE, landmark TEXT NOT NULL,
  x REAL NOT NULL, y REAL NOT NULL, visibility INTEGER NOT NULL CHECK(visibility IN (1, 2)),
  sd_px REAL NOT NULL CHECK(sd_px >= 0), origin TEXT NOT NULL, confirmed INTEGER NOT NULL DEFAULT 1,
  PRIMARY KEY(moment, landmark)
) STRICT, WITHOUT ROWID;
CREATE TABLE finding(
  clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, fault TEXT NOT NULL,
  measured_verdict TEXT NOT NULL DEFAULT '', measured_severity REAL NOT NULL DEFAULT 0,
  decision TEXT NOT NULL CHECK(decision IN ('open', 'accepted', 'changed', 'rejected')),
  changed_to TEXT NOT NULL DEFAULT '', decided_on TEXT NOT NULL DEFAULT '',
  PRIMARY KEY(clip, fault)
) STRICT, WITHOUT ROWID;
CREATE TABLE correction(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), horse INTEGER NOT NULL REFERENCES horse(id),
  fault TEXT NOT NULL, travel TEXT NOT NULL, gait TEXT NOT NULL, view TEXT NOT NULL, seat TEXT NOT NULL,
  noticed_on TEXT NOT NULL, focus INTEGER NOT NULL DEFAULT 0,
  UNIQUE(rider, horse, fault, travel, gait, view, seat)
) STRICT;
CREATE TABLE prescription(
  id INTEGER PRIMARY KEY, correction INTEGER NOT NULL REFERENCES correction(id) ON DELETE CASCADE,
  exercise TEXT NOT NULL, given_on TEXT NOT NULL, until TEXT NOT NULL, step INTEGER NOT NULL DEFAULT 0,
  withdrawn INTEGER NOT NULL DEFAULT 0
) STRICT;
)sql";

constexpr const char* kSecond = R"sql(
ALTER TABLE clip ADD COLUMN last_frame INTEGER NOT NULL DEFAULT 0;
ALTER TABLE clip ADD COLUMN trashed INTEGER NOT NULL DEFAULT 0;
CREATE TABLE setting(key TEXT PRIMARY KEY, value TEXT NOT NULL) STRICT, WITHOUT ROWID;
)sql";

constexpr const char* kThird = R"sql(
ALTER TABLE clip ADD COLUMN filmed_fps REAL NOT NULL DEFAULT 0 CHECK(filmed_fps >= 0);
ALTER TABLE clip ADD COLUMN slow_from_s REAL;
ALTER TABLE clip ADD COLUMN slow_to_s REAL;
ALTER TABLE moment ADD COLUMN field INTEGER NOT NULL DEFAULT 0 CHECK(field IN (0, 1));
)sql";

// Moments and findings are built anew because their uniqueness changes: several riders in a clip, moments in
// the trash.
constexpr const char* kFourth = R"sql(
ALTER TABLE rider ADD COLUMN trashed INTEGER NOT NULL DEFAULT 0;
ALTER TABLE clip ADD COLUMN goal TEXT NOT NULL DEFAULT '';
ALTER TABLE clip ADD COLUMN question TEXT NOT NULL DEFAULT '';
ALTER TABLE clip ADD COLUMN hurts TEXT NOT NULL DEFAULT '';
ALTER TABLE clip ADD COLUMN duration_s REAL NOT NULL DEFAULT 0;
ALTER TABLE clip ADD COLUMN px_per_m REAL NOT NULL DEFAULT 0;
ALTER TABLE clip ADD COLUMN px_per_m_sd REAL NOT NULL DEFAULT 0;
ALTER TABLE mark ADD COLUMN put_x REAL;
ALTER TABLE mark ADD COLUMN put_y REAL;
CREATE TABLE moment_new(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
  frame INTEGER NOT NULL CHECK(frame >= 0), time_s REAL NOT NULL, phase TEXT NOT NULL DEFAULT '',
  field INTEGER NOT NULL DEFAULT 0 CHECK(field IN (0, 1)), slot INTEGER NOT NULL DEFAULT 0 CHECK(slot >= 0),
  trashed INTEGER NOT NULL DEFAULT 0, top_x REAL, top_y REAL
) STRICT;
INSERT INTO moment_new(id, clip, frame, time_s, phase, field) SELECT id, clip, frame, time_s, phase, field FROM moment;
DROP TABLE moment;
ALTER TABLE moment_new RENAME TO moment;
CREATE UNIQUE INDEX moment_by_place ON moment(clip, frame, slot) WHERE trashed = 0;
CREATE TABLE finding_new(
  clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, slot INTEGER NOT NULL DEFAULT 0, fault TEXT NOT NULL,
  measured_verdict TEXT NOT NULL DEFAULT '', measured_severity REAL NOT NULL DEFAULT 0,
  decision TEXT NOT NULL CHECK(decision IN ('open', 'accepted', 'changed', 'rejected', 'asked_back')),
  changed_to TEXT NOT NULL DEFAULT '', decided_on TEXT NOT NULL DEFAULT '', frame INTEGER NOT NULL DEFAULT -1,
  PRIMARY KEY(clip, slot, fault)
) STRICT, WITHOUT ROWID;
INSERT INTO finding_new(clip, fault, measured_verdict, measured_severity, decision, changed_to, decided_on)
  SELECT clip, fault, measured_verdict, measured_severity, decision, changed_to, decided_on FROM finding;
DROP TABLE finding;
ALTER TABLE finding_new RENAME TO finding;
CREATE TABLE stretch(
  clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, first INTEGER NOT NULL CHECK(first >= 0),
  gait TEXT NOT NULL DEFAULT '', rein TEXT NOT NULL DEFAULT '', seat TEXT NOT NULL DEFAULT '',
  asked TEXT NOT NULL DEFAULT '', shown TEXT NOT NULL DEFAULT '', name TEXT NOT NULL DEFAULT '', judged INTEGER NOT NULL DEFAULT 1,
  PRIMARY KEY(clip, first)
) STRICT, WITHOUT ROWID;
CREATE TABLE companion(
  clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, slot INTEGER NOT NULL CHECK(slot > 0),
  rider INTEGER REFERENCES rider(id), horse INTEGER REFERENCES horse(id), PRIMARY KEY(clip, slot)
) STRICT, WITHOUT ROWID;
CREATE TABLE note(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, frame INTEGER NOT NULL CHECK(frame >= 0),
  kind TEXT NOT NULL CHECK(kind IN ('good', 'look', 'words')), words TEXT NOT NULL DEFAULT '', slot INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE TABLE remark(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE,
  kind TEXT NOT NULL CHECK(kind IN ('finding', 'strength')), part TEXT NOT NULL, words TEXT NOT NULL CHECK(words <> ''),
  frame INTEGER NOT NULL CHECK(frame >= 0), slot INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE TABLE phrase(words TEXT PRIMARY KEY CHECK(words <> ''), used INTEGER NOT NULL) STRICT, WITHOUT ROWID;
)sql";

// The ride becomes the unit. Every clip that was reviewed keeps its own ride under the clip's number, and so
// does every further rider in it: nothing that was decided is merged away.
constexpr const char* kFifth = R"sql(
DROP INDEX clip_by_rider;
DROP INDEX clip_by_hash;
CREATE TABLE ride(
  id INTEGER PRIMARY KEY, rider INTEGER REFERENCES rider(id), horse INTEGER REFERENCES horse(id),
  mount TEXT NOT NULL DEFAULT 'horse' CHECK(mount IN ('horse', 'mechanical')), saddle TEXT NOT NULL DEFAULT '',
  day TEXT NOT NULL DEFAULT '', place TEXT NOT NULL DEFAULT '' CHECK(place IN ('', 'lesson', 'home', 'show')),
  school TEXT NOT NULL DEFAULT '', level TEXT NOT NULL DEFAULT '', goal TEXT NOT NULL DEFAULT '',
  question TEXT NOT NULL DEFAULT '', hurts TEXT NOT NULL DEFAULT '', coach_word TEXT NOT NULL DEFAULT '',
  promised TEXT NOT NULL DEFAULT '', state TEXT NOT NULL DEFAULT 'fresh' CHECK(state IN ('fresh', 'started', 'done'))
) STRICT;
INSERT INTO ride(id, rider, horse, day, school, goal, question, hurts, state)
  SELECT id, rider, horse, CASE WHEN filmed_on <> '' THEN filmed_on ELSE added_on END, school, goal, question, hurts, state FROM clip;
CREATE TABLE companion_ride AS
  SELECT c.clip, c.slot, c.rider, c.horse, (SELECT max(id) FROM clip) + row_number() OVER (ORDER BY c.clip, c.slot) AS ride
  FROM companion c;
INSERT INTO ride(id, rider, horse, day, school, state)
  SELECT n.ride, n.rider, n.horse, CASE WHEN clip.filmed_on <> '' THEN clip.filmed_on ELSE clip.added_on END, clip.school, clip.state
  FROM companion_ride n JOIN clip ON clip.id = n.clip;
CREATE TABLE slot(
  clip INTEGER NOT NULL REFERENCES clip(id), slot INTEGER NOT NULL CHECK(slot >= 0),
  ride INTEGER NOT NULL REFERENCES ride(id), PRIMARY KEY(clip, slot)
) STRICT, WITHOUT ROWID;
INSERT INTO slot(clip, slot, ride) SELECT id, 0, id FROM clip;
INSERT INTO slot(clip, slot, ride) SELECT clip, slot, ride FROM companion_ride;

CREATE TABLE stretch_new(
  clip INTEGER NOT NULL REFERENCES clip(id), first INTEGER NOT NULL CHECK(first >= 0),
  gait TEXT NOT NULL DEFAULT '', seat TEXT NOT NULL DEFAULT '', rein TEXT NOT NULL DEFAULT '',
  asked TEXT NOT NULL DEFAULT '', shown TEXT NOT NULL DEFAULT '', name TEXT NOT NULL DEFAULT '',
  judged INTEGER NOT NULL DEFAULT 1, view TEXT NOT NULL DEFAULT 'side', travel TEXT NOT NULL DEFAULT '',
  roll_deg REAL NOT NULL DEFAULT 0, roll_sd_deg REAL NOT NULL DEFAULT 1.5, roll_marked INTEGER NOT NULL DEFAULT 0,
  yaw_deg REAL NOT NULL DEFAULT 0, yaw_sd_deg REAL NOT NULL DEFAULT 7, yaw_marked INTEGER NOT NULL DEFAULT 0,
  stirrups TEXT NOT NULL DEFAULT '', reins TEXT NOT NULL DEFAULT '', hands TEXT NOT NULL DEFAULT '',
  line TEXT NOT NULL DEFAULT '', circle_leg TEXT NOT NULL DEFAULT '', PRIMARY KEY(clip, first)
) STRICT, WITHOUT ROWID;
INSERT INTO stretch_new(clip, first, gait, seat, rein, asked, shown, name, judged, view, travel, roll_deg, roll_sd_deg,
                        roll_marked, yaw_deg, yaw_sd_deg, yaw_marked)
  SELECT s.clip, s.first, CASE WHEN s.gait <> '' THEN s.gait ELSE c.gait END, CASE WHEN s.seat <> '' THEN s.seat ELSE c.seat END,
         s.rein, s.asked, s.shown, s.name, s.judged, c.view, c.travel, c.roll_deg, c.roll_sd_deg, c.roll_marked,
         c.yaw_deg, c.yaw_sd_deg, c.yaw_marked
  FROM stretch s JOIN clip c ON c.id = s.clip;
INSERT INTO stretch_new(clip, first, gait, seat, view, travel, roll_deg, roll_sd_deg, roll_marked, yaw_deg, yaw_sd_deg, yaw_marked)
  SELECT id, 0, gait, seat, view, travel, roll_deg, roll_sd_deg, roll_marked, yaw_deg, yaw_sd_deg, yaw_marked
  FROM clip WHERE NOT EXISTS (SELECT 1 FROM stretch_new WHERE stretch_new.clip = clip.id AND first = 0);

CREATE TABLE finding_new(
  id INTEGER PRIMARY KEY, ride INTEGER NOT NULL REFERENCES ride(id), fault TEXT NOT NULL,
  gait TEXT NOT NULL DEFAULT '', seat TEXT NOT NULL DEFAULT '', side TEXT NOT NULL DEFAULT '',
  measured_verdict TEXT NOT NULL DEFAULT '', measured_severity REAL NOT NULL DEFAULT 0,
  decision TEXT NOT NULL CHECK(decision IN ('open', 'accepted', 'changed', 'rejected', 'asked_back')),
  changed_to TEXT NOT NULL DEFAULT '', decided_on TEXT NOT NULL DEFAULT '',
  clip INTEGER REFERENCES clip(id), frame INTEGER NOT NULL DEFAULT -1
) STRICT;
INSERT INTO finding_new(ride, fault, gait, seat, side, measured_verdict, measured_severity, decision, changed_to, decided_on, clip, frame)
  SELECT slot.ride, f.fault, s.gait, s.seat, CASE WHEN s.view = 'side' THEN s.travel ELSE '' END, f.measured_verdict,
         f.measured_severity, f.decision, f.changed_to, f.decided_on, CASE WHEN f.frame >= 0 THEN f.clip END, f.frame
  FROM finding f JOIN slot ON slot.clip = f.clip AND slot.slot = f.slot
  JOIN stretch_new s ON s.clip = f.clip
    AND s.first = (SELECT max(first) FROM stretch_new WHERE clip = f.clip AND first <= max(f.frame, 0))
  ORDER BY f.clip, f.slot, f.fault;
CREATE TABLE remark_new(
  id INTEGER PRIMARY KEY, ride INTEGER NOT NULL REFERENCES ride(id),
  kind TEXT NOT NULL CHECK(kind IN ('finding', 'strength')), part TEXT NOT NULL, words TEXT NOT NULL CHECK(words <> ''),
  clip INTEGER REFERENCES clip(id), frame INTEGER NOT NULL DEFAULT 0 CHECK(frame >= 0)
) STRICT;
INSERT INTO remark_new(id, ride, kind, part, words, clip, frame)
  SELECT r.id, coalesce(slot.ride, r.clip), r.kind, r.part, r.words, r.clip, r.frame
  FROM remark r LEFT JOIN slot ON slot.clip = r.clip AND slot.slot = r.slot;
CREATE TABLE note_new(
  id INTEGER PRIMARY KEY, clip INTEGER REFERENCES clip(id), frame INTEGER NOT NULL DEFAULT 0 CHECK(frame >= 0),
  kind TEXT NOT NULL CHECK(kind IN ('good', 'look', 'words')), words TEXT NOT NULL DEFAULT '', slot INTEGER NOT NULL DEFAULT 0,
  ride INTEGER REFERENCES ride(id), at TEXT NOT NULL DEFAULT '',
  CHECK((clip IS NOT NULL) + (ride IS NOT NULL) = 1)
) STRICT;
INSERT INTO note_new(id, clip, frame, kind, words, slot) SELECT id, clip, frame, kind, words, slot FROM note;
CREATE TABLE event(
  id INTEGER PRIMARY KEY, ride INTEGER NOT NULL REFERENCES ride(id),
  clip INTEGER REFERENCES clip(id), slot INTEGER NOT NULL DEFAULT 0, time_s REAL NOT NULL DEFAULT 0,
  at TEXT NOT NULL DEFAULT '', event TEXT NOT NULL CHECK(event <> ''), detail TEXT NOT NULL DEFAULT ''
) STRICT;

CREATE TABLE correction_new(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), horse INTEGER REFERENCES horse(id),
  fault TEXT NOT NULL, gait TEXT NOT NULL, seat TEXT NOT NULL, side TEXT NOT NULL DEFAULT '',
  noticed_on TEXT NOT NULL, focus INTEGER NOT NULL DEFAULT 0, focus_since INTEGER REFERENCES ride(id)
) STRICT;
CREATE TABLE correction_kept AS
  SELECT id, min(id) OVER (PARTITION BY rider, horse, fault, gait, seat, CASE WHEN view = 'side' THEN travel ELSE '' END) AS kept
  FROM correction;
INSERT INTO correction_new(id, rider, horse, fault, gait, seat, side, noticed_on, focus)
  SELECT k.kept, c.rider, c.horse, c.fault, c.gait, c.seat, CASE WHEN c.view = 'side' THEN c.travel ELSE '' END,
         min(c.noticed_on), max(c.focus)
  FROM correction c JOIN correction_kept k ON k.id = c.id GROUP BY k.kept;
CREATE TABLE prescription_new(
  id INTEGER PRIMARY KEY, correction INTEGER NOT NULL REFERENCES correction(id),
  exercise TEXT NOT NULL, given_on TEXT NOT NULL, until TEXT NOT NULL, step INTEGER NOT NULL DEFAULT 0,
  withdrawn INTEGER NOT NULL DEFAULT 0, ride INTEGER REFERENCES ride(id)
) STRICT;
INSERT INTO prescription_new(id, correction, exercise, given_on, until, step, withdrawn)
  SELECT p.id, k.kept, p.exercise, p.given_on, p.until, p.step, p.withdrawn
  FROM prescription p JOIN correction_kept k ON k.id = p.correction;

CREATE TABLE limitation(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id),
  words TEXT NOT NULL CHECK(words <> ''), side TEXT NOT NULL DEFAULT '' CHECK(side IN ('', 'left', 'right', 'both')),
  since TEXT NOT NULL DEFAULT '', until TEXT NOT NULL DEFAULT ''
) STRICT;
INSERT INTO limitation(rider, words, side)
  WITH RECURSIVE part(rider, words, rest) AS (
    SELECT id, '', limitations || ',' FROM rider WHERE trim(limitations) <> ''
    UNION ALL SELECT rider, trim(substr(rest, 1, instr(rest, ',') - 1)), substr(rest, instr(rest, ',') + 1) FROM part WHERE rest <> '')
  SELECT rider, words, CASE WHEN words LIKE '%left%' AND words NOT LIKE '%right%' THEN 'left'
                            WHEN words LIKE '%right%' AND words NOT LIKE '%left%' THEN 'right' ELSE '' END
  FROM part WHERE words <> '' ORDER BY rider;
ALTER TABLE rider DROP COLUMN limitations;
ALTER TABLE rider ADD COLUMN height_cm INTEGER;
ALTER TABLE horse RENAME COLUMN note TO words;
ALTER TABLE horse ADD COLUMN stage TEXT NOT NULL DEFAULT '';
ALTER TABLE horse ADD COLUMN stiff_side TEXT NOT NULL DEFAULT '';
ALTER TABLE horse ADD COLUMN half_seat_better INTEGER NOT NULL DEFAULT 0;
ALTER TABLE horse ADD COLUMN cold_backed INTEGER NOT NULL DEFAULT 0;
ALTER TABLE horse ADD COLUMN trashed INTEGER NOT NULL DEFAULT 0;

CREATE TABLE clip_new(
  id INTEGER PRIMARY KEY, path TEXT NOT NULL, hash TEXT NOT NULL, bytes INTEGER NOT NULL,
  recorded_at TEXT NOT NULL DEFAULT '', told_by TEXT NOT NULL DEFAULT '' CHECK(told_by IN ('', 'container', 'file', 'coach')),
  clock_off_s INTEGER NOT NULL DEFAULT 0, batch INTEGER NOT NULL DEFAULT 0, added_on TEXT NOT NULL DEFAULT '',
  last_frame INTEGER NOT NULL DEFAULT 0, trashed INTEGER NOT NULL DEFAULT 0, duration_s REAL NOT NULL DEFAULT 0,
  filmed_fps REAL NOT NULL DEFAULT 0 CHECK(filmed_fps >= 0), slow_from_s REAL, slow_to_s REAL,
  px_per_m REAL NOT NULL DEFAULT 0, px_per_m_sd REAL NOT NULL DEFAULT 0
) STRICT;
INSERT INTO clip_new(id, path, hash, bytes, recorded_at, added_on, last_frame, trashed, duration_s, filmed_fps, slow_from_s, slow_to_s, px_per_m, px_per_m_sd)
  SELECT id, path, hash, bytes, filmed_on, added_on, last_frame, trashed, duration_s, filmed_fps, slow_from_s, slow_to_s, px_per_m, px_per_m_sd FROM clip;

CREATE TABLE moment_new(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id),
  frame INTEGER NOT NULL CHECK(frame >= 0), time_s REAL NOT NULL, phase TEXT NOT NULL DEFAULT '',
  field INTEGER NOT NULL DEFAULT 0 CHECK(field IN (0, 1)), slot INTEGER NOT NULL DEFAULT 0 CHECK(slot >= 0),
  trashed INTEGER NOT NULL DEFAULT 0, top_x REAL, top_y REAL
) STRICT;
INSERT INTO moment_new SELECT id, clip, frame, time_s, phase, field, slot, trashed, top_x, top_y FROM moment;
CREATE TABLE mark_new(
  moment INTEGER NOT NULL REFERENCES moment(id), landmark TEXT NOT NULL,
  x REAL NOT NULL, y REAL NOT NULL, visibility INTEGER NOT NULL CHECK(visibility IN (1, 2)),
  sd_px REAL NOT NULL CHECK(sd_px >= 0), origin TEXT NOT NULL, confirmed INTEGER NOT NULL DEFAULT 1, put_x REAL, put_y REAL,
  PRIMARY KEY(moment, landmark)
) STRICT, WITHOUT ROWID;
INSERT INTO mark_new SELECT moment, landmark, x, y, visibility, sd_px, origin, confirmed, put_x, put_y FROM mark;
DROP TABLE mark;
DROP TABLE moment;
ALTER TABLE moment_new RENAME TO moment;
ALTER TABLE mark_new RENAME TO mark;
CREATE UNIQUE INDEX moment_by_place ON moment(clip, frame, slot) WHERE trashed = 0;
DROP TABLE companion_ride;
DROP TABLE companion;
DROP TABLE correction_kept;
DROP TABLE stretch;
ALTER TABLE stretch_new RENAME TO stretch;
DROP TABLE finding;
ALTER TABLE finding_new RENAME TO finding;
DROP TABLE remark;
ALTER TABLE remark_new RENAME TO remark;
DROP TABLE note;
ALTER TABLE note_new RENAME TO note;
DROP TABLE prescription;
DROP TABLE correction;
ALTER TABLE correction_new RENAME TO correction;
ALTER TABLE prescription_new RENAME TO prescription;
DROP TABLE clip;
ALTER TABLE clip_new RENAME TO clip;
CREATE TABLE own_data(kind TEXT NOT NULL, id TEXT NOT NULL, body TEXT NOT NULL, PRIMARY KEY(kind, id)) STRICT, WITHOUT ROWID;

CREATE UNIQUE INDEX finding_by_ride ON finding(ride, fault, gait, seat, side);
CREATE UNIQUE INDEX correction_by_what ON correction(rider, coalesce(horse, 0), fault, gait, seat, side);
CREATE INDEX clip_by_hash ON clip(hash);
CREATE INDEX clip_in_trash ON clip(id) WHERE trashed = 1;
CREATE INDEX ride_by_rider ON ride(rider, day);
CREATE INDEX ride_by_horse ON ride(horse, day);
CREATE INDEX ride_by_day ON ride(day, id);
CREATE INDEX ride_waiting ON ride(state, day);
CREATE INDEX slot_by_ride ON slot(ride);
CREATE INDEX moment_by_clip ON moment(clip, frame);
CREATE INDEX moment_in_trash ON moment(id) WHERE trashed = 1;
CREATE INDEX mark_placed ON mark(moment) WHERE put_x IS NOT NULL;
CREATE INDEX finding_by_clip ON finding(clip);
CREATE INDEX remark_by_ride ON remark(ride);
CREATE INDEX remark_by_clip ON remark(clip);
CREATE INDEX note_by_clip ON note(clip);
CREATE INDEX note_by_ride ON note(ride);
CREATE INDEX event_by_ride ON event(ride);
CREATE INDEX event_by_clip ON event(clip);
CREATE INDEX correction_by_horse ON correction(horse);
CREATE INDEX correction_by_focus ON correction(focus_since);
CREATE INDEX prescription_by_correction ON prescription(correction, withdrawn);
CREATE INDEX prescription_by_ride ON prescription(ride);
CREATE INDEX limitation_by_rider ON limitation(rider);
CREATE INDEX phrase_by_use ON phrase(used DESC, words);
)sql";

// The search follows the records by triggers, so that undo keeps it right too. Row numbers: eight times the
// record's plus its kind, so that a record's line is found without looking.
constexpr const char* kSixth = R"sql(
CREATE VIEW ride_about(id, words) AS
  SELECT ride.id, coalesce(rider.name, '') || ' ' || coalesce(horse.name, '') || ' ' || ride.day || ' ' ||
    CASE substr(ride.day, 6, 2) WHEN '01' THEN 'January' WHEN '02' THEN 'February' WHEN '03' THEN 'March' WHEN '04' THEN 'April'
      WHEN '05' THEN 'May' WHEN '06' THEN 'June' WHEN '07' THEN 'July' WHEN '08' THEN 'August' WHEN '09' THEN 'September'
      WHEN '10' THEN 'October' WHEN '11' THEN 'November' WHEN '12' THEN 'December' ELSE '' END
  FROM ride LEFT JOIN rider ON rider.id = ride.rider LEFT JOIN horse ON horse.id = ride.horse;
CREATE VIEW ride_words(id, words) AS
  SELECT id, trim(school || ' ' || place || ' ' || saddle || ' ' || goal || ' ' || question || ' ' || hurts || ' ' || coach_word) FROM ride;
CREATE VIEW note_ride(id, ride) AS
  SELECT note.id, coalesce(note.ride, slot.ride) FROM note LEFT JOIN slot ON slot.clip = note.clip AND slot.slot = note.slot;
CREATE VIRTUAL TABLE search USING fts5(words, about, tokenize = 'unicode61 remove_diacritics 2', prefix = '2 3');

CREATE TRIGGER search_rider_new AFTER INSERT ON rider BEGIN
  INSERT INTO search(rowid, words, about) VALUES(new.id * 8 + 1, new.name || ' ' || new.goal, ''); END;
CREATE TRIGGER search_rider_gone AFTER DELETE ON rider BEGIN DELETE FROM search WHERE rowid = old.id * 8 + 1; END;
CREATE TRIGGER search_rider_change AFTER UPDATE OF name, goal ON rider BEGIN
  UPDATE search SET words = new.name || ' ' || new.goal WHERE rowid = new.id * 8 + 1;
  UPDATE ride SET day = day WHERE rider = new.id AND new.name <> old.name; END;
CREATE TRIGGER search_horse_new AFTER INSERT ON horse BEGIN
  INSERT INTO search(rowid, words, about) VALUES(new.id * 8 + 2, new.name || ' ' || new.words, ''); END;
CREATE TRIGGER search_horse_gone AFTER DELETE ON horse BEGIN DELETE FROM search WHERE rowid = old.id * 8 + 2; END;
CREATE TRIGGER search_horse_change AFTER UPDATE OF name, words ON horse BEGIN
  UPDATE search SET words = new.name || ' ' || new.words WHERE rowid = new.id * 8 + 2;
  UPDATE ride SET day = day WHERE horse = new.id AND new.name <> old.name; END;

CREATE TRIGGER search_ride_new AFTER INSERT ON ride BEGIN
  INSERT INTO search(rowid, words, about) SELECT new.id * 8 + 3, w.words, a.words FROM ride_words w, ride_about a WHERE w.id = new.id AND a.id = new.id; END;
CREATE TRIGGER search_ride_gone AFTER DELETE ON ride BEGIN DELETE FROM search WHERE rowid = old.id * 8 + 3; END;
CREATE TRIGGER search_ride_change AFTER UPDATE OF rider, horse, day, place, school, saddle, goal, question, hurts, coach_word ON ride BEGIN
  UPDATE search SET words = (SELECT words FROM ride_words WHERE id = new.id), about = (SELECT words FROM ride_about WHERE id = new.id)
    WHERE rowid = new.id * 8 + 3;
  UPDATE search SET about = (SELECT words FROM ride_about WHERE id = new.id) WHERE rowid IN (
    SELECT id * 8 + 4 FROM note WHERE note.ride = new.id
    UNION ALL SELECT note.id * 8 + 4 FROM slot JOIN note ON note.clip = slot.clip AND note.slot = slot.slot WHERE slot.ride = new.id
    UNION ALL SELECT id * 8 + 5 FROM remark WHERE ride = new.id UNION ALL SELECT id * 8 + 6 FROM finding WHERE ride = new.id); END;

CREATE TRIGGER search_note_new AFTER INSERT ON note WHEN new.words <> '' BEGIN
  INSERT INTO search(rowid, words, about)
    SELECT new.id * 8 + 4, new.words, coalesce((SELECT a.words FROM note_ride n JOIN ride_about a ON a.id = n.ride WHERE n.id = new.id), ''); END;
CREATE TRIGGER search_note_gone AFTER DELETE ON note BEGIN DELETE FROM search WHERE rowid = old.id * 8 + 4; END;
CREATE TRIGGER search_note_change AFTER UPDATE ON note BEGIN
  DELETE FROM search WHERE rowid = new.id * 8 + 4;
  INSERT INTO search(rowid, words, about)
    SELECT new.id * 8 + 4, new.words, coalesce((SELECT a.words FROM note_ride n JOIN ride_about a ON a.id = n.ride WHERE n.id = new.id), '')
    WHERE new.words <> ''; END;
CREATE TRIGGER search_remark_new AFTER INSERT ON remark BEGIN
  INSERT INTO search(rowid, words, about) SELECT new.id * 8 + 5, new.words, words FROM ride_about WHERE id = new.ride; END;
CREATE TRIGGER search_remark_gone AFTER DELETE ON remark BEGIN DELETE FROM search WHERE rowid = old.id * 8 + 5; END;
CREATE TRIGGER search_remark_change AFTER UPDATE ON remark BEGIN
  UPDATE search SET words = new.words, about = (SELECT words FROM ride_about WHERE id = new.ride) WHERE rowid = new.id * 8 + 5; END;
CREATE TRIGGER search_finding_new AFTER INSERT ON finding BEGIN
  INSERT INTO search(rowid, words, about)
    SELECT new.id * 8 + 6, replace(new.fault || ' ' || new.changed_to, '_', ' '), words FROM ride_about WHERE id = new.ride; END;
CREATE TRIGGER search_finding_gone AFTER DELETE ON finding BEGIN DELETE FROM search WHERE rowid = old.id * 8 + 6; END;
CREATE TRIGGER search_finding_change AFTER UPDATE OF fault, changed_to, ride ON finding BEGIN
  UPDATE search SET words = replace(new.fault || ' ' || new.changed_to, '_', ' '), about = (SELECT words FROM ride_about WHERE id = new.ride)
    WHERE rowid = new.id * 8 + 6; END;

INSERT INTO search(rowid, words, about) SELECT id * 8 + 1, name || ' ' || goal, '' FROM rider;
INSERT INTO search(rowid, words, about) SELECT id * 8 + 2, name || ' ' || words, '' FROM horse;
INSERT INTO search(rowid, words, about) SELECT w.id * 8 + 3, w.words, a.words FROM ride_words w JOIN ride_about a ON a.id = w.id;
INSERT INTO search(rowid, words, about) SELECT note.id * 8 + 4, note.words, coalesce(a.words, '')
  FROM note JOIN note_ride n ON n.id = note.id LEFT JOIN ride_about a ON a.id = n.ride WHERE note.words <> '';
INSERT INTO search(rowid, words, about) SELECT remark.id * 8 + 5, remark.words, a.words FROM remark JOIN ride_about a ON a.id = remark.ride;
INSERT INTO search(rowid, words, about) SELECT f.id * 8 + 6, replace(f.fault || ' ' || f.changed_to, '_', ' '), a.words
  FROM finding f JOIN ride_about a ON a.id = f.ride;
)sql";

// What the coach's eye answered, on a frame of a clip's slot like a moment; one answer a question there.
constexpr const char* kSeventh = R"sql(
CREATE TABLE answer(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, slot INTEGER NOT NULL DEFAULT 0,
  frame INTEGER NOT NULL CHECK(frame >= 0), name TEXT NOT NULL CHECK(name <> ''),
  said TEXT NOT NULL CHECK(said IN ('good', 'fault', 'cannot_see'))
) STRICT;
CREATE UNIQUE INDEX answer_at ON answer(clip, slot, frame, name);
CREATE TABLE sketch(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, slot INTEGER NOT NULL DEFAULT 0,
  frame INTEGER NOT NULL CHECK(frame >= 0), kind TEXT NOT NULL CHECK(kind IN ('arrow', 'circle', 'words')),
  x1 REAL NOT NULL, y1 REAL NOT NULL, x2 REAL NOT NULL, y2 REAL NOT NULL, words TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX sketch_at ON sketch(clip);
CREATE TABLE repeat_mark(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, slot INTEGER NOT NULL DEFAULT 0,
  frame INTEGER NOT NULL CHECK(frame >= 0), landmark TEXT NOT NULL, x1 REAL NOT NULL, y1 REAL NOT NULL, x2 REAL NOT NULL,
  y2 REAL NOT NULL, marked_on TEXT NOT NULL
) STRICT;
CREATE INDEX repeat_mark_by_clip ON repeat_mark(clip);
)sql";

// What the coach says of a limitation; the leathers; what is measured on the ground.
constexpr const char* kEighth = R"sql(
ALTER TABLE limitation ADD COLUMN loads TEXT NOT NULL DEFAULT '';
ALTER TABLE clip ADD COLUMN frames INTEGER NOT NULL DEFAULT 0;
CREATE TABLE stirrup(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), saddle TEXT NOT NULL DEFAULT '',
  job TEXT NOT NULL CHECK(job IN ('flat', 'general', 'jump', 'gallop')), left_hole REAL NOT NULL, right_hole REAL NOT NULL,
  day TEXT NOT NULL
) STRICT;
CREATE INDEX stirrup_by_rider ON stirrup(rider);
CREATE TABLE ground_mark(
  id INTEGER PRIMARY KEY, clip INTEGER NOT NULL REFERENCES clip(id) ON DELETE CASCADE, slot INTEGER NOT NULL DEFAULT 0,
  frame INTEGER NOT NULL CHECK(frame >= 0), kind TEXT NOT NULL CHECK(kind IN ('lap_line', 'overstep', 'step')),
  x1 REAL NOT NULL, y1 REAL NOT NULL, x2 REAL NOT NULL, y2 REAL NOT NULL
) STRICT;
CREATE INDEX ground_mark_by_clip ON ground_mark(clip);
)sql";

// What a coach signs off: who may do what on which horse, since when.
constexpr const char* kNinth = R"sql(
CREATE TABLE sign_off(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), horse INTEGER NOT NULL REFERENCES horse(id),
  gate TEXT NOT NULL CHECK(gate IN ('canter', 'no_stirrups', 'no_reins', 'jump', 'alone')), day TEXT NOT NULL
) STRICT;
CREATE UNIQUE INDEX sign_off_at ON sign_off(rider, horse, gate);
)sql";

// What is practised, how a rider's weeks look, and lessons with who rides in them.
constexpr const char* kTenth = R"sql(
CREATE TABLE practice(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), horse INTEGER REFERENCES horse(id),
  ride INTEGER REFERENCES ride(id), day TEXT NOT NULL, exercise TEXT NOT NULL CHECK(exercise <> ''),
  rung INTEGER NOT NULL DEFAULT -1, attempts INTEGER NOT NULL DEFAULT 0 CHECK(attempts BETWEEN 0 AND 10000),
  good INTEGER NOT NULL DEFAULT 0 CHECK(good BETWEEN 0 AND attempts), held REAL NOT NULL DEFAULT 0 CHECK(held >= 0),
  guess REAL NOT NULL DEFAULT -1, feel INTEGER NOT NULL DEFAULT 0 CHECK(feel BETWEEN 0 AND 5),
  pain INTEGER NOT NULL DEFAULT 0, tired_rider INTEGER NOT NULL DEFAULT 0, tired_horse INTEGER NOT NULL DEFAULT 0,
  by_rider INTEGER NOT NULL DEFAULT 0, words TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX practice_by_rider ON practice(rider, day);
CREATE INDEX practice_by_horse ON practice(horse);
CREATE INDEX practice_by_ride ON practice(ride);
CREATE TABLE rider_plan(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), days TEXT NOT NULL DEFAULT '',
  minutes INTEGER NOT NULL DEFAULT 45, starts TEXT NOT NULL DEFAULT '', clip_on TEXT NOT NULL DEFAULT '',
  arena INTEGER NOT NULL DEFAULT 1, helper INTEGER NOT NULL DEFAULT 1, session TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE UNIQUE INDEX rider_plan_of ON rider_plan(rider);
CREATE TABLE lesson(
  id INTEGER PRIMARY KEY, day TEXT NOT NULL, task TEXT NOT NULL DEFAULT '', started_at TEXT NOT NULL DEFAULT '',
  ended_at TEXT NOT NULL DEFAULT '', session TEXT NOT NULL DEFAULT '', block INTEGER NOT NULL DEFAULT 0,
  block_since TEXT NOT NULL DEFAULT '', block_used_s INTEGER NOT NULL DEFAULT 0
) STRICT;
CREATE INDEX lesson_by_day ON lesson(day);
CREATE TABLE lesson_place(
  id INTEGER PRIMARY KEY, lesson INTEGER NOT NULL REFERENCES lesson(id) ON DELETE CASCADE,
  ride INTEGER NOT NULL REFERENCES ride(id), turn INTEGER NOT NULL DEFAULT 0, absent INTEGER NOT NULL DEFAULT 0,
  variant TEXT NOT NULL DEFAULT '', looked TEXT NOT NULL DEFAULT '', ground TEXT NOT NULL DEFAULT '',
  said TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE INDEX lesson_place_of ON lesson_place(lesson);
CREATE INDEX lesson_place_by_ride ON lesson_place(ride);
)sql";

}  // namespace

const std::vector<Migration>& migrations() {
    static const std::vector<Migration> steps{
        {1, "riders, horses, clips, moments, joints, findings, corrections, prescriptions", kFirst},
        {2, "where a clip was left, the trash, the yard's settings", kSecond},
        {3, "slow motion as the coach says it, fields of interlaced frames", kThird},
        {4,
         "stretches, notes, remarks and phrases, several riders in a clip, the trash for moments and riders, "
         "what the rider says",
         kFourth},
        {5,
         "rides with their places; stretches say how they were ridden and seen; events; limitations and "
         "horses as "
         "fields; when a clip was recorded",
         kFifth},
        {6, "the search over all words", kSixth},
        {7, "what the coach's eye answered, drawings on frames, joints marked again", kSeventh},
        {8, "what a limitation keeps from being loaded, the leathers' holes, marks on the ground", kEighth},
        {9, "what the coach signs off for a rider on a horse", kNinth},
        {10, "what is practised, riders' weeks, lessons", kTenth},
        {11, "the coach's word on corrections, milestones, promised clips, the outbox, drills", kEleventh},
        {12,
         "what was agreed to, what left, reviews that were spoken, faces the coach set, rides of other yards",
         kTwelfth},
        {13, "with what the outbox may leave; the log of what left only grows", kThirteenth},
        {14, "a key for each rider that is the same in every copy of the yard", kFourteenth},
        {15, "who cleared a limitation, and for how long; what else the coach signs off", kFifteenth},
        {16, "homework beside the focus: for the horse, off the horse", kSixteenth},
        {17, "the arena laid into clips, where the horse went, and what was asked there", kSeventeenth},
    };
    return steps;
}

}  // namespace aspen::store
