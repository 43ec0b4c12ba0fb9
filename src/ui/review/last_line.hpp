#pragma once

#include <QLabel>
#include <QPushButton>
#include <QWidget>

#include "app/review/last_time.hpp"

namespace aspen::ui {

/// Over the picture: what was worked on last time, its rung, what this clip was to show, and whether it does.
/// Gone when there is nothing, or when it was read.
class LastLine : public QWidget {
    Q_OBJECT
  public:
    LastLine(app::Bench& bench, QWidget* parent);
    /// As a reader hears it; "" while it is hidden.
    QString spoken() const;

  signals:
    void say(const QString& line);

  protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

  private:
    void refresh();
    void fit();
    app::Bench& bench_;
    QLabel* words_;
    QPushButton* copy_;
    QPushButton* read_;
    QString sentence_;
    QStringList said_;  ///< from all of it to the shortest
    bool read_here_ = false;
};

}  // namespace aspen::ui
