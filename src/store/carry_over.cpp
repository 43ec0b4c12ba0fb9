#include "store/carry_over.hpp"

#include <SQLiteCpp/SQLiteCpp.h>
#include <fmt/format.h>

#include "core/reading/refused.hpp"
#include "store/database.hpp"

namespace aspen::store {
namespace {

// Numbers of deleted riders are given anew and names change: the key says who is who.
constexpr const char* kCarryOver = R"sql(
INSERT INTO departure(at, rider, use, what, about, file, sha256, faces)
  SELECT o.at, ifnull(r.id, 0), o.use, o.what, iif(r.id, o.about, ''), iif(r.id, o.file, ''), o.sha256, o.faces
  FROM replaced.departure o LEFT JOIN replaced.rider x ON x.id = o.rider LEFT JOIN rider r ON r.key = x.key
  WHERE NOT EXISTS (SELECT 1 FROM departure d WHERE d.at = o.at AND d.use = o.use AND d.what = o.what AND
    d.sha256 = o.sha256 AND d.rider IN (ifnull(r.id, 0), 0));
CREATE TEMP TABLE theirs AS
  SELECT r.id AS rider, o.use, o.given_by, o.given_on, o.until, o.face, o.withdrawn_on
  FROM replaced.consent o JOIN replaced.rider x ON x.id = o.rider JOIN rider r ON r.key = x.key;
UPDATE consent SET withdrawn_on = (SELECT max(o.withdrawn_on) FROM theirs o WHERE o.rider = consent.rider AND
    o.use = consent.use AND o.given_on = consent.given_on AND o.given_by = consent.given_by)
  WHERE withdrawn_on = '' AND EXISTS (SELECT 1 FROM theirs o WHERE o.rider = consent.rider AND
    o.use = consent.use AND o.given_on = consent.given_on AND o.given_by = consent.given_by AND o.withdrawn_on <> '');
INSERT INTO consent(rider, use, given_by, given_on, until, face, withdrawn_on)
  SELECT o.rider, o.use, o.given_by, o.given_on, o.until, o.face, o.withdrawn_on FROM theirs o
  WHERE NOT EXISTS (SELECT 1 FROM consent c WHERE c.rider = o.rider AND c.use = o.use AND c.given_on = o.given_on AND
    c.given_by = o.given_by AND c.face = o.face AND c.until = o.until);
DROP TABLE theirs;
UPDATE consent SET withdrawn_on = max(given_on, date('now', 'localtime'))
  WHERE withdrawn_on = '' AND (SELECT key FROM rider WHERE id = consent.rider) NOT IN
    (SELECT key FROM replaced.rider);
)sql";

}  // namespace

void carry_over_leaving(const std::filesystem::path& replaced, const std::filesystem::path& backup) {
    Database into(backup);
    try {
        SQLite::Database& db = into.raw();
        SQLite::Statement attach(db, "ATTACH ? AS replaced");
        attach.bind(1, replaced.string());
        attach.exec();
        const int version = db.execAndGet("PRAGMA replaced.user_version").getInt();
        constexpr int kFirstWithKeys = 14;
        if (version >= kFirstWithKeys) {
            SQLite::Transaction all(db);
            db.exec(kCarryOver);
            all.commit();
        }
        db.exec("DETACH replaced");
    } catch (const SQLite::Exception& e) {
        throw core::Refused(
            fmt::format("{}: what was withdrawn and what left could not be read from it ({}); look every "
                        "consent over before "
                        "anything leaves",
                        replaced.string(), e.what()));
    }
}

}  // namespace aspen::store
