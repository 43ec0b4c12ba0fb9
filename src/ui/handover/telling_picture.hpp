#pragma once

#include <QWidget>

#include "app/telling/telling_desk.hpp"

namespace aspen::ui {

/// What is told, as it will be seen.
class TellingPicture : public QWidget {
    Q_OBJECT
  public:
    explicit TellingPicture(app::TellingDesk& desk, QWidget* parent = nullptr);

  protected:
    void paintEvent(QPaintEvent*) override;

  private:
    app::TellingDesk& desk_;
};

}  // namespace aspen::ui
