-- A yard as version 1 wrote it. Kept for the migration tests; never edited.

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

INSERT INTO rider(id, name, birth_year, school) VALUES(1, 'Pell Marrow', 1970, 'gaited');
INSERT INTO horse(id, name) VALUES(1, 'Bramble Pie');
INSERT INTO clip(id, path, hash, bytes, filmed_on, state, rider, horse, school, gait, seat, travel) VALUES(1, 'clips/a.mp4', 'aa', 10, '2026-01-05', 'done', 1, 1, 'gaited', 'walk', 'sitting', 'left');
INSERT INTO moment(id, clip, frame, time_s) VALUES(1, 1, 12, 0.4);
INSERT INTO mark VALUES(1, 'ear', 600.5, 130.25, 2, 1.3, 'clicked', 1);
INSERT INTO finding VALUES(1, 'elbow_behind', 'outside', 0.7, 'accepted', '', '2026-01-06');
INSERT INTO correction VALUES(1, 1, 1, 'elbow_behind', 'left', 'walk', 'side', 'sitting', '2026-01-05', 1);
INSERT INTO prescription VALUES(1, 1, 'rein_marked_with_tape', '2026-01-05', '2026-01-19', 0, 0);
PRAGMA application_id = 1094932804;
PRAGMA user_version = 1;
