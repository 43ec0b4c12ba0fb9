#pragma once

#include <QWidget>

#include "ui/shared/key_map.hpp"

class QPushButton;
class QLabel;

namespace aspen::ui {

/// All keys over the whole window. Each can be given another: choose it, then press the key it shall have.
class KeyOverlay : public QWidget {
    Q_OBJECT
  public:
    KeyOverlay(KeyMap& keys, QWidget* parent);
    void open();

  protected:
    void paintEvent(QPaintEvent*) override;
    void keyPressEvent(QKeyEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

  private:
    void refresh();
    void listen(const QString& action);
    KeyMap& keys_;
    QHash<QString, QPushButton*> buttons_;
    QLabel* line_;
    QString listening_;
};

}  // namespace aspen::ui
