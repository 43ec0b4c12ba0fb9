#include "app/models/rides_model.hpp"

#include <QFileInfo>
#include <QLocale>
#include <QRegularExpression>
#include <QTimer>
#include <algorithm>
#include <set>

#include "app/files/text.hpp"
#include "app/following/asking.hpp"
#include "app/review/prepared.hpp"

namespace aspen::app {
namespace {

constexpr int kPage = 40;
constexpr int kRefreshAfterMs = 30;

QString spoken_day(const Yard& yard, const std::string& iso) {
    const QDate d = QDate::fromString(text(iso), Qt::ISODate);
    if (!d.isValid()) return QObject::tr("no date");
    if (d == yard.today()) return QObject::tr("today");
    if (d == yard.today().addDays(-1)) return QObject::tr("yesterday");
    if (d == yard.today().addDays(1)) return QObject::tr("tomorrow");
    return QLocale().toString(d, d.year() == yard.today().year() ? "d MMM" : "d MMM yyyy");
}

/// "nothing" written into the field is no pain.
bool says_pain(const std::string& hurts) {
    static const std::set<QString> none{"", "no", "none", "nothing", QObject::tr("nothing hurts"), "-"};
    return !none.contains(text(hurts).trimmed().toLower());
}

QString spoken_length(double s) {
    if (s <= 0) return {};
    if (s < 90) return QString("%1 s").arg(s, 0, 'f', 0);
    return QObject::tr("%1:%2 min")
        .arg(static_cast<int>(s) / 60)
        .arg(static_cast<int>(s) % 60, 2, 10, QChar('0'));
}

}  // namespace

RidesModel::RidesModel(Yard& yard, QObject* parent) : QAbstractListModel(parent), yard_(yard) {
    // Several changes at once (a demo ride, a Sunday evening's forty clips) are read once.
    const auto later = [this] {
        if (std::exchange(pending_, true)) return;
        QTimer::singleShot(kRefreshAfterMs, this, [this] {
            pending_ = false;
            refresh();
        });
    };
    connect(&yard_, &Yard::clips_changed, this, later);
    connect(&yard_, &Yard::riders_changed, this, later);
    connect(&yard_, &Yard::followed_changed, this, later);
    refresh();
}

RidesModel::Row RidesModel::row_of(store::RideLine line, Need need) const {
    Row row;
    row.need = need;
    const store::Ride& r = line.ride;
    row.rider = r.rider;
    const QString file = QFileInfo(text(line.first.path)).fileName();
    row.title = line.rider.empty() ? file : text(line.rider);
    QStringList facts;
    if (!line.horse.empty()) facts << text(line.horse);
    if (r.mount == core::Mount::mechanical) facts << tr("mechanical horse");
    facts << spoken_day(yard_, r.day);
    if (r.place == store::Place::home) facts << tr("from home");
    if (r.place == store::Place::show) facts << tr("at a show");
    if (line.clips > 1) facts << tr("%1 clips").arg(line.clips);
    if (const QString length = spoken_length(line.duration_s); !length.isEmpty()) facts << length;
    row.facts = facts.join(" · ");
    switch (need) {
        case Need::hurts:
            row.why = tr("Hurts: ") + text(r.own.hurts);
            break;
        case Need::promised:
            row.why = tr("Promised for ") + spoken_day(yard_, r.promised);
            break;
        default:
            row.why = line.rider.empty()                     ? tr("Who rides?")
                      : !r.own.question.empty()              ? tr("Asks: ") + text(r.own.question)
                      : r.state == store::RideState::started ? tr("Started")
                      : r.state == store::RideState::done    ? QString()
                                                             : tr("New");
    }
    if (row.why.isEmpty() && !line.focus.empty()) {
        const core::Fault* fault = yard_.knowledge().faults.find(line.focus);
        if (fault) row.why = tr("In work: ") + text(fault->name).toLower();
    }
    row.line = std::move(line);
    return row;
}

/// Rides that were sent and wait; who sent them is noted in `sent`.
std::vector<RidesModel::Row> RidesModel::waiting_rides(const std::vector<PromiseLine>& promised,
                                                       std::set<store::RiderId>& sent) {
    std::vector<Row> out;
    const auto waiting = yard_.records().rides.waiting();
    for (store::RideLine line : waiting) {
        const RideProposal proposal = propose(yard_, line, waiting);
        if (line.ride.rider) sent.insert(line.ride.rider);
        const Need need = says_pain(line.ride.own.hurts) ? Need::hurts
                          : !line.ride.promised.empty()  ? Need::promised
                                                         : Need::waiting;
        const auto prepared = kept_prepared(line.first.hash);
        const auto answers = std::ranges::find_if(promised, [&](const PromiseLine& p) {
            return p.promise.rider == line.ride.rider && p.kept_by == line.first.id;
        });
        out.push_back(row_of(std::move(line), need));
        if (answers != promised.end())
            out.back().facts +=
                " · " + tr("the clip promised for ") + spoken_day(yard_, answers->promise.due_on);
        if (prepared && prepared->found()) {
            if (const QString seems = in_short(*prepared); !seems.isEmpty())
                out.back().facts += " · " + tr("looked through: ") + seems;
        }
        out.back().proposal = proposal;
        if (const QString words = in_words(yard_, proposal); !words.isEmpty())
            out.back().why += (out.back().why.isEmpty() ? "" : "  ") + words + tr(" Y says yes");
    }
    return out;
}

/// Clips that were promised and have not come; who was asked is noted in `asked`.
void RidesModel::add_promised(std::vector<Row>& out, const std::vector<PromiseLine>& promised,
                              std::set<store::RiderId>& asked) const {
    for (const PromiseLine& p : promised) {
        if (p.kept_by) continue;
        asked.insert(p.promise.rider);
        if (p.days_left > 0) continue;
        Row row;
        row.kind = Kind::due_rider;
        row.need = Need::due;
        row.rider = p.promise.rider;
        row.title = p.rider;
        row.line.ride.day = p.promise.due_on;
        row.why = p.forgotten ? tr("Forgotten: the clip promised for ") + spoken_day(yard_, p.promise.due_on)
                              : tr("Promised a clip for ") + spoken_day(yard_, p.promise.due_on);
        row.facts =
            QStringList{p.about, p.horse, tr("Enter asks again")}.filter(QRegularExpression(".")).join(" · ");
        out.push_back(std::move(row));
    }
}

/// Exercises that have ended, of riders who sent nothing and were not asked yet.
void RidesModel::add_ended(std::vector<Row>& out, const std::set<store::RiderId>& spoken_to) const {
    const std::string today = yard_.today_iso();
    for (const auto& running : yard_.records().work.running()) {
        if (running.until.empty() || running.until > today || spoken_to.contains(running.rider)) continue;
        const auto rider = yard_.records().people.rider(running.rider);
        if (!rider || rider->trashed) continue;
        Row row;
        row.kind = Kind::due_rider;
        row.need = Need::due;
        row.rider = running.rider;
        row.title = text(rider->name);
        row.line.ride.day = running.until;
        const core::Exercise* e = yard_.knowledge().exercises.find(running.exercise);
        row.why = tr("Due: ask for the next clip");
        row.facts =
            (e ? text(e->name) : tr("the exercise")) + tr(" ended ") + spoken_day(yard_, running.until);
        out.push_back(std::move(row));
    }
}

std::vector<RidesModel::Row> RidesModel::needs() {
    const auto promised = promises(yard_);
    std::set<store::RiderId> spoken_to;  // who has sent something, or was asked, is not asked for it
    std::vector<Row> out = waiting_rides(promised, spoken_to);
    waiting_ = static_cast<int>(out.size());
    add_promised(out, promised, spoken_to);
    add_ended(out, spoken_to);
    std::ranges::stable_sort(out, [](const Row& a, const Row& b) {
        const auto rank = [](const Row& r) {
            const std::string& day = r.need == Need::promised ? r.line.ride.promised : r.line.ride.day;
            return std::tuple(static_cast<int>(r.need), day, r.line.duration_s);
        };
        return rank(a) < rank(b);
    });
    return out;
}

std::vector<RidesModel::Row> RidesModel::hits() {
    std::vector<Row> out;
    for (const store::Hit& hit : yard_.records().search.places(words_.toStdString())) {
        Row row;
        row.kind = Kind::hit;
        row.facts = hit.day.empty() ? QString() : spoken_day(yard_, hit.day);
        row.why = text(hit.text);
        if (hit.kind == store::HitKind::rider) {
            row.rider = {hit.id};
            row.title = tr("Rider");
        } else if (hit.kind == store::HitKind::horse) {
            row.horse = {hit.id};
            row.title = tr("Horse");
        } else if (const auto ride = yard_.records().rides.ride(hit.ride)) {
            row.line.ride = *ride;
            row.rider = ride->rider;
            const auto rider = yard_.records().people.rider(ride->rider);
            const auto horse = yard_.records().people.horse(ride->horse);
            row.title = rider ? text(rider->name) : tr("Nobody named");
            const QString kinds[] = {"", "", tr("ride"), tr("note"), tr("your words"), tr("fault")};
            row.facts = QStringList{kinds[static_cast<int>(hit.kind)], horse ? text(horse->name) : QString(),
                                    row.facts}
                            .join(" · ");
        } else {
            continue;
        }
        out.push_back(std::move(row));
    }
    return out;
}

void RidesModel::refresh() {
    beginResetModel();
    loaded_ = std::max(loaded_, kPage);
    rows_ = words_.isEmpty() ? needs() : hits();
    done_ = words_.isEmpty() ? yard_.records().rides.count_done() : 0;
    if (done_ > 0) {
        Row heading;
        heading.kind = Kind::heading;
        heading.title = tr("Reviewed");
        rows_.push_back(std::move(heading));
        auto lines = yard_.records().rides.done(0, loaded_);
        loaded_ = static_cast<int>(lines.size());
        for (store::RideLine& line : lines) rows_.push_back(row_of(std::move(line), Need::none));
    }
    endResetModel();
}

void RidesModel::look_for(const QString& words) {
    if (words.trimmed() == words_) return;
    words_ = words.trimmed();
    loaded_ = 0;
    refresh();
}

bool RidesModel::canFetchMore(const QModelIndex& parent) const {
    return !parent.isValid() && words_.isEmpty() && loaded_ < done_;
}

void RidesModel::fetchMore(const QModelIndex&) {
    auto lines = yard_.records().rides.done(loaded_, kPage);
    if (lines.empty()) {
        done_ = loaded_;
        return;
    }
    const int first = rowCount();
    beginInsertRows({}, first, first + static_cast<int>(lines.size()) - 1);
    loaded_ += static_cast<int>(lines.size());
    for (store::RideLine& line : lines) rows_.push_back(row_of(std::move(line), Need::none));
    endInsertRows();
}

int RidesModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(rows_.size());
}

QVariant RidesModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const Row& row = rows_[static_cast<std::size_t>(index.row())];
    switch (role) {
        case Qt::DisplayRole:
            return row.title;
        case Qt::AccessibleTextRole:
            return QStringList{row.title, row.why, row.facts}.join(", ");
        case kind_role:
            return static_cast<int>(row.kind);
        case why_role:
            return row.why;
        case facts_role:
            return row.facts;
        case need_role:
            return static_cast<int>(row.need);
        case ride_role:
            return static_cast<qlonglong>(row.line.ride.id.value);
        case rider_role:
            return static_cast<qlonglong>(row.rider.value);
        case count_role:
            return row.line.clips;
        default:
            return {};
    }
}

Qt::ItemFlags RidesModel::flags(const QModelIndex& index) const {
    if (!index.isValid() || rows_[static_cast<std::size_t>(index.row())].kind == Kind::heading)
        return Qt::NoItemFlags;
    return Qt::ItemIsEnabled | Qt::ItemIsSelectable;
}

std::optional<store::RideId> RidesModel::ride_at(int row) const {
    if (row < 0 || row >= rowCount()) return std::nullopt;
    const store::RideId id = rows_[static_cast<std::size_t>(row)].line.ride.id;
    return id ? std::optional(id) : std::nullopt;
}
store::RiderId RidesModel::rider_at(int row) const {
    return row < 0 || row >= rowCount() ? store::RiderId{} : rows_[static_cast<std::size_t>(row)].rider;
}
store::HorseId RidesModel::horse_at(int row) const {
    return row < 0 || row >= rowCount() ? store::HorseId{} : rows_[static_cast<std::size_t>(row)].horse;
}
RideProposal RidesModel::proposal_at(int row) const {
    return row < 0 || row >= rowCount() ? RideProposal{} : rows_[static_cast<std::size_t>(row)].proposal;
}
int RidesModel::row_of(store::RideId ride) const {
    for (std::size_t i = 0; i < rows_.size(); ++i) {
        if (rows_[i].line.ride.id == ride) return static_cast<int>(i);
    }
    return -1;
}

const std::vector<store::Clip>& RidesModel::clips_at(int row) const {
    static const std::vector<store::Clip> none;
    if (row < 0 || row >= rowCount()) return none;
    const Row& r = rows_[static_cast<std::size_t>(row)];
    if (!r.line.ride.id) return none;
    if (!r.clips) {
        if (r.line.clips == 1)
            r.clips = std::vector{r.line.first};
        else
            r.clips = yard_.records().rides.clips_of(r.line.ride.id);
    }
    return *r.clips;
}

}  // namespace aspen::app

#include "moc_rides_model.cpp"
