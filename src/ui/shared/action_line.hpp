#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <QWidget>
#include <functional>
#include <vector>

namespace aspen::ui {

/// Something that can be done now, by its name.
struct Deed {
    QString words;  ///< "next moment"
    QString where;  ///< "Moments"
    QString key;    ///< shown beside it, "" for none
    std::function<void()> act;
};

/// One line over the window that finds anything that can be done by part of its name.
class ActionLine : public QWidget {
    Q_OBJECT
  public:
    /// `deeds` is asked anew at every opening, so that only what can be done now stands there.
    ActionLine(std::function<std::vector<Deed>()> deeds, QWidget* parent);
    void open();
    QLineEdit& words() { return *words_; }
    QListWidget& found() { return *found_; }

  signals:
    void closed();

  protected:
    bool eventFilter(QObject*, QEvent*) override;
    void paintEvent(QPaintEvent*) override;

  private:
    void look();
    void take(int row);
    void leave();
    std::function<std::vector<Deed>()> ask_;
    std::vector<Deed> deeds_;
    std::vector<std::size_t> shown_;
    QLineEdit* words_;
    QListWidget* found_;
};

}  // namespace aspen::ui
