#pragma once

#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSpinBox>
#include <QWidget>

#include "app/following/asking.hpp"

namespace aspen::ui {

/// A rider who is due, or a clip that was promised: the sentence to send with its shot list, and what waits
/// in the outbox. Everything is written as files; nothing is really sent.
class AskingCard : public QWidget {
    Q_OBJECT
  public:
    explicit AskingCard(app::Yard& yard, QWidget* parent = nullptr);
    /// Shows what is to be asked of a rider; of nobody, the outbox alone.
    void show_rider(store::RiderId rider);
    QPlainTextEdit& words() { return *words_; }
    QPushButton& ask() { return *ask_; }
    QPushButton& write() { return *write_; }
    QPushButton& no_longer() { return *no_longer_; }
    QListWidget& outbox() { return *outbox_; }

  signals:
    void closed();
    void say(const QString& line);

  private:
    void build_outbox(QVBoxLayout& all);
    void join();
    void renew();
    void put_in();
    void write_out();
    app::Yard& yard_;
    store::RiderId rider_;
    std::optional<app::Asking> asking_;
    std::optional<store::Promise> promise_;
    QLabel *name_, *about_, *box_head_;
    QPlainTextEdit* words_;
    QPushButton *ask_, *no_longer_, *write_, *withdraw_;
    QListWidget* outbox_;
    QSpinBox* wait_;
};

}  // namespace aspen::ui
