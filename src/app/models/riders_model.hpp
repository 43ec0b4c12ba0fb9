#pragma once

#include <QAbstractListModel>

#include "app/yard/yard.hpp"

namespace aspen::app {

/// The yard's riders by name, each with what is known of them and what is in work. Interface thread only.
class RidersModel : public QAbstractListModel {
    Q_OBJECT
  public:
    enum Role { id_role = Qt::UserRole + 1, about_role, work_role, number_role };

    explicit RidersModel(Yard& yard, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    store::RiderId rider_at(int row) const;
    int row_of(store::RiderId id) const;

    /// Something changed that is not read yet.
    bool pending() const { return pending_; }

  private:
    struct Row {
        store::RiderId id;
        QString name, about, work;
    };
    void refresh();
    Yard& yard_;
    std::vector<Row> rows_;
    bool pending_ = false;
};

}  // namespace aspen::app
