#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QWidget>

#include "app/yard/yard.hpp"

namespace aspen::ui {

/// A horse's card, written in place: every field is kept as soon as it is left, nothing asks to be saved.
class HorseForm : public QWidget {
    Q_OBJECT
  public:
    explicit HorseForm(app::Yard& yard, QWidget* parent = nullptr);
    void show_horse(store::HorseId id);

  signals:
    void closed();
    void say(const QString& line);

  private:
    void keep();
    void load();
    app::Yard& yard_;
    store::HorseId id_;
    bool loading_ = false;
    QLabel* seen_;
    QLineEdit *name_, *height_, *words_;
    QComboBox *stage_, *stiff_;
    QCheckBox *half_seat_, *cold_backed_;
};

}  // namespace aspen::ui
