#pragma once

#include <QLabel>
#include <QLineEdit>
#include <QWidget>
#include <functional>

namespace aspen::ui {

/// One line to write in over the bench's lower edge, with the coach's own phrases to complete from; Enter
/// takes it, Esc leaves it. The keys of the bench rest meanwhile.
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
