#include "store/migration_steps.hpp"

namespace aspen::store {

// Two cards that become one keep one log, so whose a line is may change; nothing else of it may. A rider who
// is deleted for good leaves the lines behind, with a number that is nobody's any more.
const char* const kThirteenth = R"sql(
ALTER TABLE outgoing ADD COLUMN going TEXT NOT NULL DEFAULT '';
ALTER TABLE outgoing ADD COLUMN fingerprint TEXT NOT NULL DEFAULT '';
CREATE TABLE departure_kept(
  id INTEGER PRIMARY KEY, at TEXT NOT NULL, rider INTEGER NOT NULL,
  use TEXT NOT NULL CHECK(use IN ('page', 'clip', 'teaching')), what TEXT NOT NULL CHECK(what <> ''),
  about TEXT NOT NULL DEFAULT '', file TEXT NOT NULL DEFAULT '', sha256 TEXT NOT NULL DEFAULT '',
  faces TEXT NOT NULL CHECK(faces IN ('covered', 'bare', 'none'))
) STRICT;
INSERT INTO departure_kept SELECT id, at, rider, use, what, about, file, sha256, faces FROM departure;
DROP TABLE departure;
ALTER TABLE departure_kept RENAME TO departure;
CREATE INDEX departure_by_rider ON departure(rider, at);
CREATE TRIGGER departure_stays BEFORE DELETE ON departure
  BEGIN SELECT RAISE(ABORT, 'what left stays in the log'); END;
CREATE TRIGGER departure_is_as_it_was BEFORE UPDATE OF id, at, use, what, sha256, faces ON departure
  BEGIN SELECT RAISE(ABORT, 'what left stays in the log as it was'); END;
)sql";

// Two copies of an earlier yard that are brought up apart have to come to the same keys, without keeping a
// name that is changed later: the number, and enough of the name to tell who got a number anew.
const char* const kFourteenth = R"sql(
ALTER TABLE rider ADD COLUMN key TEXT NOT NULL DEFAULT '';
UPDATE rider SET key = 'before-14-' || id || '-' || length(name) || '-' || ifnull(unicode(name), 0) || '-' ||
  ifnull(unicode(substr(name, -1)), 0);
)sql";

const char* const kFifteenth = R"sql(
ALTER TABLE limitation ADD COLUMN cleared_by TEXT NOT NULL DEFAULT '';
ALTER TABLE limitation ADD COLUMN cleared_from TEXT NOT NULL DEFAULT '';
ALTER TABLE limitation ADD COLUMN cleared_until TEXT NOT NULL DEFAULT '';
CREATE TABLE sign_off_kept(
  id INTEGER PRIMARY KEY, rider INTEGER NOT NULL REFERENCES rider(id), horse INTEGER NOT NULL REFERENCES horse(id),
  gate TEXT NOT NULL CHECK(gate IN ('canter', 'no_stirrups', 'no_reins', 'jump', 'alone', 'sits_trot', 'two_point')),
  day TEXT NOT NULL
) STRICT;
INSERT INTO sign_off_kept SELECT id, rider, horse, gate, day FROM sign_off;
DROP TABLE sign_off;
ALTER TABLE sign_off_kept RENAME TO sign_off;
CREATE UNIQUE INDEX sign_off_at ON sign_off(rider, horse, gate);
)sql";

const char* const kSixteenth = R"sql(
ALTER TABLE rider_plan ADD COLUMN for_horse TEXT NOT NULL DEFAULT '';
ALTER TABLE rider_plan ADD COLUMN off_horse TEXT NOT NULL DEFAULT '';
)sql";

}  // namespace aspen::store
