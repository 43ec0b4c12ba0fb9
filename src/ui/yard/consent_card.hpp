#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QVBoxLayout>
#include <QWidget>
#include <memory>

#include "app/leaving/consents.hpp"
#include "ui/shared/standing_lines.hpp"

namespace aspen::ui {

/// The register of one rider: what was agreed to for each use, by whom and until when, and all that left.
class ConsentCard : public QWidget {
    Q_OBJECT
  public:
    explicit ConsentCard(app::Yard& yard, QWidget* parent = nullptr);
    void show_rider(store::RiderId rider);
    /// Opens the form for a use.
    void record(app::Use use);
    QLineEdit& by() { return *by_; }
    QLineEdit& until() { return *until_; }
    QPushButton& keep() { return *keep_; }
    QListWidget& log() { return *log_; }

  signals:
    void closed();
    void say(const QString& line);

  private:
    void renew();
    QWidget* row_of(const app::ConsentLine& line, bool held);
    void give();
    QWidget* form();
    app::Yard& yard_;
    store::RiderId rider_;
    std::optional<app::Use> recording_;
    QLabel *name_, *about_, *for_, *log_head_;
    std::unique_ptr<StandingLines> uses_;
    QWidget* form_;
    QLineEdit *by_, *on_, *until_;
    QCheckBox* face_;
    QPushButton* keep_;
    QListWidget* log_;
};

}  // namespace aspen::ui
