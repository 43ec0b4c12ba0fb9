#pragma once

#include <QAbstractListModel>
#include <optional>
#include <set>

#include "app/yard/proposals.hpp"
#include "app/yard/yard.hpp"

namespace aspen::app {

struct PromiseLine;

/// Why a ride stands where it stands in the list of what needs the coach.
enum class Need { hurts, promised, due, waiting, none };

/// What needs the coach today, the most urgent first: a rider says that something hurts; an answer is
/// promised; a rider whose exercise has run out is due; then what waits longest. After them, under a heading,
/// the rides that are done, newest first, a page at a time. Or, while something is looked for, the places
/// where the words stand. Interface thread only.
class RidesModel : public QAbstractListModel {
    Q_OBJECT
  public:
    enum class Kind { ride, due_rider, heading, hit };
    enum Role {
        kind_role = Qt::UserRole + 1,
        why_role,
        facts_role,
        need_role,
        ride_role,
        rider_role,
        count_role
    };

    explicit RidesModel(Yard& yard, QObject* parent = nullptr);

    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    Qt::ItemFlags flags(const QModelIndex& index) const override;
    bool canFetchMore(const QModelIndex& parent) const override;
    void fetchMore(const QModelIndex& parent) override;

    /// Looks for words; empty words bring the rides back.
    void look_for(const QString& words);
    bool looks() const { return !words_.isEmpty(); }
    /// Reads the records again.
    void refresh();

    /// The ride of a row; none for a heading or a rider.
    std::optional<store::RideId> ride_at(int row) const;
    store::RiderId rider_at(int row) const;
    /// Of a hit that is a horse's card; zero otherwise.
    store::HorseId horse_at(int row) const;
    /// The row of a ride, -1 when it is not loaded.
    int row_of(store::RideId ride) const;
    /// What a row's ride seems to be; nothing where nothing is proposed.
    RideProposal proposal_at(int row) const;
    /// Rides that wait for the coach.
    int waiting() const { return waiting_; }
    bool is_empty() const { return rows_.empty(); }
    /// The clips of a row's ride, read when they are first asked for.
    const std::vector<store::Clip>& clips_at(int row) const;

    /// Something changed that is not read yet.
    bool pending() const { return pending_; }

  private:
    struct Row {
        Kind kind = Kind::ride;
        Need need = Need::none;
        store::RideLine line;
        QString title, why, facts;
        store::RiderId rider{};
        store::HorseId horse{};
        RideProposal proposal{};
        mutable std::optional<std::vector<store::Clip>> clips{};
    };
    std::vector<Row> needs();
    std::vector<Row> waiting_rides(const std::vector<PromiseLine>& promised, std::set<store::RiderId>& sent);
    void add_promised(std::vector<Row>& out, const std::vector<PromiseLine>& promised,
                      std::set<store::RiderId>& asked) const;
    void add_ended(std::vector<Row>& out, const std::set<store::RiderId>& spoken_to) const;
    std::vector<Row> hits();
    Row row_of(store::RideLine line, Need need) const;
    Yard& yard_;
    QString words_;
    std::vector<Row> rows_;
    int waiting_ = 0, done_ = 0, loaded_ = 0;
    bool pending_ = false;
};

}  // namespace aspen::app
