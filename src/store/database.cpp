#include "store/database.hpp"

#include <SQLiteCpp/Backup.h>
#include <SQLiteCpp/Database.h>
#include <SQLiteCpp/Exception.h>
#include <SQLiteCpp/Statement.h>
#include <SQLiteCpp/Transaction.h>
#include <fmt/format.h>

#include "core/refused.hpp"

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

constexpr int kApplicationId = 0x41435944;  // "ACYD": this file is an Aspen Crest yard

int pragma(SQLite::Database& db, const char* name) {
    return db.execAndGet(fmt::format("PRAGMA {}", name)).getInt();
}

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
    };
    return steps;
}

Database::Database(const std::filesystem::path& file, int up_to_version) : file_(file) {
    const int newest = up_to_version > 0 ? up_to_version : static_cast<int>(migrations().size());
    try {
        db_ = std::make_unique<SQLite::Database>(file.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE,
                                                 2000);
        const int application = pragma(*db_, "application_id");
        const int version = pragma(*db_, "user_version");
        const int tables = db_->execAndGet("SELECT count(*) FROM sqlite_schema").getInt();
        if (application != kApplicationId && tables > 0) {
            throw core::Refused(
                fmt::format("{}: is a database of another program; choose the yard's folder", file.string()));
        }
        if (version > newest) {
            throw core::Refused(fmt::format(
                "{}: was written by a newer version ({} > {}); update the program, nothing was changed",
                file.string(), version, newest));
        }
        db_->exec("PRAGMA journal_mode = WAL");
        db_->exec("PRAGMA synchronous = FULL");
        // A step may build a table anew, and dropping the old one must not take along what refers to it.
        db_->exec("PRAGMA foreign_keys = OFF");
        if (version < newest) migrate(newest);
        db_->exec("PRAGMA foreign_keys = ON");
    } catch (const SQLite::Exception& e) {
        const std::string hint = e.getErrorCode() == 26 ? "is damaged or no yard; restore a backup"
                                 : e.getErrorCode() == 8 || e.getErrorCode() == 14
                                     ? "cannot be written; make the folder writable or choose another yard"
                                     : fmt::format("cannot be opened ({}); check the disk", e.what());
        throw core::Refused(fmt::format("{}: {}", file.string(), hint));
    }
}

Database::~Database() = default;

int Database::version() const { return pragma(*db_, "user_version"); }

void Database::migrate(int newest) {
    const int from = pragma(*db_, "user_version");
    if (from > 0) back_up(file_.string() + fmt::format(".before-{}", newest));
    for (const Migration& step : migrations()) {
        if (step.number <= from || step.number > newest) continue;
        SQLite::Transaction transaction(*db_);
        db_->exec(step.sql);
        db_->exec(fmt::format("PRAGMA application_id = {}", kApplicationId));
        db_->exec(fmt::format("PRAGMA user_version = {}", step.number));
        if (SQLite::Statement(*db_, "PRAGMA foreign_key_check").executeStep()) {
            throw core::Refused(fmt::format(
                "{}: some records refer to others that are not there; restore a backup", file_.string()));
        }
        transaction.commit();
    }
}

void Database::back_up(const std::filesystem::path& to) {
    try {
        SQLite::Database copy(to.string(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
        SQLite::Backup backup(copy, *db_);
        backup.executeStep(-1);
    } catch (const SQLite::Exception& e) {
        throw core::Refused(
            fmt::format("{}: the backup cannot be written ({}); check the folder and the free space",
                        to.string(), e.what()));
    }
}

}  // namespace aspen::store
