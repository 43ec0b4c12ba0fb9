#pragma once

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <memory>

#include "app/yard/yard.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

class LimitationList;

/// A rider's card, written in place: every field is kept as soon as it is left, nothing asks to be saved.
class RiderForm : public QWidget {
    Q_OBJECT
  public:
    explicit RiderForm(app::Yard& yard, QWidget* parent = nullptr);
    void show_rider(store::RiderId id);

  signals:
    void closed();
    void say(const QString& line);
    void consents_wanted(aspen::store::RiderId rider);

  private:
    QLayout* build_fields();
    QLayout* build_foot();
    void keep();
    void load();
    void load_sign_offs();
    app::Yard& yard_;
    store::RiderId id_;
    bool loading_ = false;
    QLineEdit *name_, *year_, *goal_;
    QPushButton* consents_;
    LimitationList* limits_;
    std::unique_ptr<StandingLines> signed_;
    QComboBox *school_, *level_;
};

}  // namespace aspen::ui
