#pragma once

#include <QVBoxLayout>
#include <QWidget>
#include <vector>

#include "app/yard/yard.hpp"

namespace aspen::ui {

/// What a rider's body does not allow, one below the other: the words, which side, since and until. The last
/// row is empty and takes a new one; an emptied row goes. Beside each stands how it is understood, and the
/// coach can say it otherwise.
class LimitationList : public QWidget {
    Q_OBJECT
  public:
    LimitationList(app::Yard& yard, QWidget* parent);
    void show_all(const std::vector<store::Limitation>& limitations);
    /// What stands there now. Days that are none are left as they were and said by `say`.
    std::vector<store::Limitation> read();

  signals:
    void edited();
    void say(const QString& line);

  private:
    struct Row;
    void add_row(const store::Limitation& limitation);
    void say_understood(Row& row) const;
    app::Yard& yard_;
    QVBoxLayout* rows_layout_;
    std::vector<Row*> rows_;
};

}  // namespace aspen::ui
