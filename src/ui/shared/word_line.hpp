#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QWidget>
#include <functional>

#include "ui/shared/hint_line.hpp"

namespace aspen::ui {

/// One line to write in over a view's lower edge, with phrases to complete from; Enter takes it, Esc leaves
/// it. The keys of the view rest meanwhile.
class WordLine : public QWidget {
    Q_OBJECT
  public:
    explicit WordLine(QWidget* parent);
    /// `hint` says what is written; `taken` gets the words, which are never empty.
    void ask(const QString& hint, const QStringList& phrases,
             const std::function<void(const QString&)>& taken, const QString& start = {});

  signals:
    void closed();

  protected:
    void paintEvent(QPaintEvent*) override;
    bool eventFilter(QObject*, QEvent*) override;

  private:
    void leave(bool take);
    QLabel* hint_;
    QLineEdit* edit_;
    std::function<void(const QString&)> taken_;
};

}  // namespace aspen::ui
